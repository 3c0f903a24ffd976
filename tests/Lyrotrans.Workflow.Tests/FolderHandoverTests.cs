using Lyrotrans.Workflow.Packing;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Handing;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package put into a folder that others look into: all of it or nothing, read back, and looked at again.</summary>
public sealed class FolderHandoverTests : IDisposable
{
    private readonly string _own = Directory.CreateTempSubdirectory("lyro-own-").FullName;
    private readonly string _shared = Directory.CreateTempSubdirectory("lyro-shared-").FullName;
    private readonly List<KeptFile> _files = [];

    public FolderHandoverTests()
    {
        foreach (var (path, bytes) in new[] { ("audio/01_Horn.wav", 3_000_000), ("audio/02_Bell.wav", 7), ("manifest.json", 0), ("deep/er/note.txt", 1000) })
        {
            var place = Path.Combine(_own, Path.GetFileName(path));
            File.WriteAllBytes(place, RandomNumberGenerator.GetBytes(bytes));
            _files.Add(new KeptFile(path, bytes, Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(place))), new DiskFile(place)));
        }
    }

    public void Dispose()
    {
        Directory.Delete(_own, recursive: true);
        if (Directory.Exists(_shared))
        {
            Directory.Delete(_shared, recursive: true);
        }
    }

    private void Put(Action<WorkProgress>? report = null, IReadOnlyList<KeptFile>? files = null, CancellationToken stop = default) => FolderHandover.Put(files ?? _files, _shared, "Orrery", report ?? (_ => { }), stop);

    private (bool IsWhole, string Words) Look() => FolderHandover.Check(_files, _shared, "Orrery", _ => { }, CancellationToken.None);

    private IEnumerable<string> There() => Directory.EnumerateFileSystemEntries(_shared, "*", SearchOption.AllDirectories);

    [Fact]
    public void All_files_lie_there_and_nothing_else()
    {
        var told = new List<WorkProgress>();
        Put(told.Add);
        Assert.All(_files, f => Assert.Equal(f.Sha256, Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(Path.Combine(_shared, "Orrery", f.Path))))));
        Assert.Equal(_files.Count, There().Count(File.Exists));
        Assert.Equal(told.Select(t => t.Fraction).Order(), told.Select(t => t.Fraction));
        Assert.Equal(1, told[^1].Fraction, 6);
        Assert.Equal((true, "4 files there and whole."), Look());
    }

    [Fact]
    public void Nobody_sees_it_before_it_is_whole()
    {
        Put(p => Assert.All(Directory.EnumerateFileSystemEntries(_shared), e => Assert.StartsWith(FolderHandover.PartPrefix, Path.GetFileName(e), StringComparison.Ordinal)));
        Assert.Equal(["Orrery"], Directory.EnumerateFileSystemEntries(_shared).Select(Path.GetFileName));
    }

    [Fact]
    public void What_is_stopped_leaves_nothing()
    {
        using var stop = new CancellationTokenSource();
        Assert.Throws<OperationCanceledException>(() => Put(p => stop.Cancel(), stop: stop.Token));
        Assert.Empty(There());
    }

    [Fact]
    public void What_lies_there_already_stays_as_it_is()
    {
        Directory.CreateDirectory(Path.Combine(_shared, "Orrery"));
        File.WriteAllText(Path.Combine(_shared, "Orrery", "theirs.txt"), "theirs");
        Assert.Equal(HandingCodes.Taken, Assert.Throws<BadInputException>(() => Put()).Finding.Code);
        Assert.Equal("theirs", File.ReadAllText(Path.Combine(_shared, "Orrery", "theirs.txt")));
        Assert.Single(There(), File.Exists);
    }

    [Fact]
    public void A_folder_that_vanishes_on_the_way_is_said_and_nothing_is_claimed()
    {
        var gone = false;
        var problem = Assert.ThrowsAny<Exception>(() => Put(p =>
        {
            if (!gone)
            {
                gone = true;
                Directory.Delete(_shared, recursive: true);
            }
        }));
        Assert.True(problem is IOException or BadInputException, problem.ToString());
        Assert.Equal((false, "The folder is not there; look whether it is mounted."), Look());
        Assert.Equal(HandingCodes.NoFolder, Assert.Throws<BadInputException>(() => Put()).Finding.Code);
    }

    [Fact]
    public void What_is_not_the_same_when_it_is_read_back_is_not_put_in_place()
    {
        // A file whose bytes are others than its sum says: as from a disk that gives back something else.
        var lying = _files.Select((f, i) => i == 1 ? f with { Sha256 = new string('0', 64) } : f).ToList();
        Assert.Equal(HandingCodes.Differs, Assert.Throws<BadInputException>(() => Put(files: lying)).Finding.Code);
        Assert.Empty(There());
    }

    [Theory]
    [InlineData("changed", false, "1 file missing or not the same: audio/02_Bell.wav.")]
    [InlineData("cut", false, "1 file missing or not the same: audio/01_Horn.wav.")]
    [InlineData("gone", false, "1 file missing or not the same: deep/er/note.txt.")]
    [InlineData("linked", false, "1 file missing or not the same: deep/er/note.txt.")]
    [InlineData("more", true, "4 files there and whole; 1 thing beside them that did not come from here.")]
    [InlineData("all gone", false, "Orrery is not there any more.")]
    public void What_became_of_it_is_said_when_somebody_looks_again(string what, bool whole, string words)
    {
        Put();
        var folder = Path.Combine(_shared, "Orrery");
        var (bell, horn, note) = (Path.Combine(folder, "audio", "02_Bell.wav"), Path.Combine(folder, "audio", "01_Horn.wav"), Path.Combine(folder, "deep", "er", "note.txt"));
        switch (what)
        {
            case "changed":
                var bytes = File.ReadAllBytes(bell);
                bytes[3] ^= 1;
                File.WriteAllBytes(bell, bytes);
                break;
            case "cut":
                using (var file = File.OpenWrite(horn))
                {
                    file.SetLength(2_999_999);
                }

                break;
            case "gone":
                File.Delete(note);
                break;
            case "linked":
                File.Move(note, note + ".real");
                File.CreateSymbolicLink(note, note + ".real");
                break;
            case "more":
                File.WriteAllText(Path.Combine(folder, "theirs.txt"), "x");
                break;
            default:
                Directory.Delete(folder, recursive: true);
                break;
        }

        Assert.Equal((whole, words), Look());
    }

    [Fact]
    public void A_zip_is_put_there_as_one_file()
    {
        var zip = _files[0] with { Path = "Orrery.zip" };
        FolderHandover.Put([zip], _shared, "Orrery.zip", _ => { }, CancellationToken.None);
        Assert.Equal(["Orrery.zip"], There().Select(Path.GetFileName));
        Assert.True(FolderHandover.Check([zip], _shared, "Orrery.zip", _ => { }, CancellationToken.None).IsWhole);
    }

    [Fact]
    public void A_path_that_leads_out_is_refused()
    {
        var evil = _files.Append(_files[0] with { Path = "../../evil.wav" }).ToList();
        Assert.Throws<BadInputException>(() => Put(files: evil));
        Assert.Empty(There());
        Assert.False(File.Exists(Path.Combine(_shared, "..", "..", "evil.wav")));
    }
}
