using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Formats.Registry;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>
/// What every writer makes of every fixture at every depth, by its hash: whatever else changes, no delivered sample, position or value does. A change that is
/// meant is put into the list, with the reason in the commit.
/// </summary>
public sealed class WrittenBytesTests : IDisposable
{
    private static readonly IReadOnlyList<string> s_clipFormats = [.. SessionFormats.OfClips.Select(f => f.Extension)];

    // What is only words about the rest; its own tests hold it.
    private static readonly string[] s_words = [".html", "_settings.csv", "manifest.json", "manifest.sig", "SHA256SUMS"];

    private static readonly Lazy<Dictionary<string, string>> s_kept = new(() => File.ReadLines(ListPath).Select(l => l.Split('\t')).ToDictionary(l => $"{l[0]}\t{l[1]}", l => l[2]));

    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-written-").FullName;

    private static string ListPath => Fixtures.Path("written.tsv");

    public static TheoryData<string> Documents => new(new[] { ("aaf", ".aaf"), ("omf", ".omf"), ("otio", ".otio"), ("midi", ".mid") }
        .SelectMany(f => Fixtures.Of(f.Item1, f.Item2).Select(p => $"{f.Item1}/{Path.GetFileName(p)}")));

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Theory]
    [MemberData(nameof(Documents))]
    public void Every_writer_makes_the_bytes_that_it_made_before(string fixture)
    {
        var found = Written(fixture).ToDictionary(w => $"{fixture}\t{w.Form}", w => w.Hash);
        var kept = s_kept.Value.Where(k => k.Key.StartsWith($"{fixture}\t", StringComparison.Ordinal)).ToDictionary();
        var changed = found.Keys.Union(kept.Keys).Where(k => found.GetValueOrDefault(k) != kept.GetValueOrDefault(k)).Order(StringComparer.Ordinal).ToList();
        Assert.True(changed.Count == 0, $"These are not what they were:\n{string.Join('\n', changed.Select(k => $"{k}\t{found.GetValueOrDefault(k)}"))}");
    }

    [Fact]
    public void No_line_of_the_list_is_of_a_fixture_that_is_gone() =>
        Assert.Empty(s_kept.Value.Keys.Select(k => k.Split('\t')[0]).Distinct().Except(Documents.Select(d => d.Data)));

    private IEnumerable<(string Form, string Hash)> Written(string fixture)
    {
        LoadedSession loaded;
        try
        {
            loaded = SessionLoader.Load(fixture.EndsWith(".mid", StringComparison.Ordinal) ? Alone(fixture) : Fixtures.Path(fixture), Path.Combine(_folder, "scratch"));
        }
        catch (BadInputException)
        {
            return [("read", "refused")];
        }

        return Forms(fixture).Select(f => (f.Form, Hash(loaded, f.Output, f.Change)));
    }

    /// <summary>A folder that holds the file and nothing else.</summary>
    private string Alone(string fixture)
    {
        var folder = Directory.CreateDirectory(Path.Combine(_folder, "Music")).FullName;
        File.Copy(Fixtures.Path(fixture), Path.Combine(folder, Path.GetFileName(fixture)));
        return folder;
    }

    private static IEnumerable<(string Form, string Output, Func<Preparation, Preparation> Change)> Forms(string fixture)
    {
        yield return ("session.json", "x.session.json", p => p);
        foreach (var (container, encoding) in Enum.GetValues<SoundContainer>().SelectMany(c => Choices.Encodings.Select(c => c.Value).Where(e => Preparation.CanHold(c, e)).Select(e => (c, e))))
        {
            yield return ($"from zero, {container}, {encoding}", "zero", p => p with { Container = container, Encoding = encoding });
        }

        if (fixture.EndsWith(".mid", StringComparison.Ordinal))
        {
            yield break;
        }

        foreach (var (format, media, depth) in s_clipFormats.SelectMany(f => Enum.GetValues<ClipMediaForm>().SelectMany(m => Enum.GetValues<ClipDepth>().Select(d => (f, m, d)))))
        {
            yield return ($"{format}, {media}, {depth}", $"x{format}", p => p with { Clips = p.Clips with { Media = media, Depth = depth, MonoOnly = false } });
        }

        foreach (var format in s_clipFormats)
        {
            yield return ($"{format}, trimmed, mono", $"x{format}", p => p with { Clips = p.Clips with { Trimmed = true, Handle = 250 } });
            yield return ($"{format}, frames", $"x{format}", p => p with { Clips = p.Clips with { FrameUnits = true, Trimmed = true, Fades = FadeForm.Properties } });
            yield return ($"{format}, rendered", $"x{format}", p => p with { Clips = p.Clips with { Fades = FadeForm.Rendered, RenderGain = true, Volume = VolumeForm.Rendered, Pan = PanForm.Split, Options = Other(p.Clips.Format) } });
        }
    }

    // Every option of the format at its last value.
    private static FormatChoices Other(ClipFormat format) => format.Options.Aggregate(new FormatChoices(), (chosen, option) => chosen.With(option, option.Values[^1].Id));

    private string Hash(LoadedSession loaded, string output, Func<Preparation, Preparation> change)
    {
        var folder = Directory.CreateDirectory(Path.Combine(_folder, Guid.NewGuid().ToString("N"))).FullName;
        try
        {
            var path = Path.Combine(folder, output);
            SessionConvert.Write(loaded, change(SessionConvert.Prepared(loaded, path, null, string.Empty)), path, DemoSession.Maker, CancellationToken.None);
            return Hash(folder);
        }
        catch (Exception problem) when (problem is BadInputException or IOException)
        {
            return "refused";
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static string Hash(string folder)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var file in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Where(f => !s_words.Any(w => f.EndsWith(w, StringComparison.Ordinal))).Order(StringComparer.Ordinal))
        {
            hash.AppendData(Encoding.UTF8.GetBytes(Path.GetRelativePath(folder, file)));
            hash.AppendData(Content(file));
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset())[..16];
    }

    // Of FLAC the length and the MD5 of its samples: how they are packed is the library's.
    private static byte[] Content(string file)
    {
        var bytes = File.ReadAllBytes(file);
        return file.EndsWith(".flac", StringComparison.Ordinal) ? bytes[18..42] : bytes;
    }
}
