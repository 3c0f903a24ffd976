using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Aaf.Writing;
using Lyrotrans.Formats.Compound;

namespace Lyrotrans.Formats.Tests;

/// <summary>Our AAF files, looked at by a checker that shares no code with the writer, and by other readers of their container.</summary>
public sealed class AafIndependentEyesTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-aaf-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string Put(int seed, AafForm form, int unit = 1)
    {
        var session = ClipSessions.Make(seed, unit);
        var path = Path.Combine(_folder, $"{seed}-{form.SectorBytes}-{form.FadesAsProperties}-{unit}.aaf");
        File.WriteAllBytes(path, AafRoundTripTests.Write(session, AafRoundTripTests.Essence(session, seed), form));
        return path;
    }

    [Fact]
    public void The_checker_finds_nothing_wrong()
    {
        var paths = Enumerable.Range(0, 4).SelectMany(seed => new[]
        {
            Put(seed, new AafForm()), Put(seed, new AafForm { SectorBytes = 512, FadesAsProperties = true }), Put(seed, new AafForm { EditRate = new Rational(25, 1) }, 1920),
        });
        var (code, output, errors) = OtherProgram.Run("/usr/bin/python3", [OtherProgram.Script("aaf_check.py"), OtherProgram.Model, .. paths]);
        Assert.True(code == 0, Encoding.UTF8.GetString(output) + errors);
    }

    [Fact]
    public void The_checker_sees_what_is_wrong()
    {
        var path = Put(5, new AafForm());
        var bytes = File.ReadAllBytes(path);
        var name = Encoding.Unicode.GetBytes("Components-1001{0}");
        var at = bytes.AsSpan().IndexOf(name);
        Assert.True(at > 0);
        bytes[at] = (byte)'X';
        File.WriteAllBytes(path, bytes);
        var (code, output, _) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("aaf_check.py"), OtherProgram.Model, path);
        Assert.Equal(1, code);
        Assert.Contains("Components-1001{0}", Encoding.UTF8.GetString(output), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(512)]
    [InlineData(4096)]
    public void Other_readers_of_the_container_see_the_same_streams(int sector)
    {
        var path = Put(9, new AafForm { SectorBytes = sector });
        using var stream = File.OpenRead(path);
        var file = CompoundFile.Open(stream, path);
        var ours = new Dictionary<string, (long, string?)>();
        Collect(file, file.Root, string.Empty, ours);
        var (code, listed, errors) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("compound_list.py"), path);
        Assert.True(code == 0, errors);
        Assert.Equal(ours, JsonDocument.Parse(listed).RootElement.EnumerateObject().ToDictionary(p => p.Name, p => (p.Value[0].GetInt64(), p.Value[1].GetString())));
        var gsf = Encoding.UTF8.GetString(OtherProgram.Run("gsf", "list", path).Output);
        Assert.All(ours.Keys, name => Assert.Contains(name, gsf, StringComparison.Ordinal));
        Assert.Equal(0, OtherProgram.Run("7z", "t", "-tCompound", path).Code);
    }

    private static void Collect(CompoundFile file, CompoundEntry storage, string path, Dictionary<string, (long, string?)> into)
    {
        foreach (var entry in file.Children(storage).All)
        {
            if (entry.Kind == CompoundEntryKind.Storage)
            {
                Collect(file, entry, $"{path}{entry.Name}/", into);
            }
            else
            {
                into[path + entry.Name] = (entry.Size, Convert.ToHexStringLower(SHA256.HashData(file.ReadAll(entry, 1 << 24))));
            }
        }
    }
}
