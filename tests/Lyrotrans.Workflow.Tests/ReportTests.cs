using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Handing;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The report of a handover: what it says, that nothing in it runs, and that a byte more or less is seen.</summary>
public sealed class ReportTests(DemoSession demo) : IDisposable
{
    private const string Hostile = "<script>alert(1)</script>\u202eevil";
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-report-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private ReportFacts Facts() => new()
    {
        Room = "Quillfeather Hall",
        Receiver = Hostile,
        Package = "Orrery_Suite.zip",
        Revision = 7,
        BuiltBy = "Engineer",
        Manifest = new Manifest("Orrery Suite", 480, 96_000, "10:00:00:00 +480", demo.Plan().Preparation with { Answers = [new FlagAnswer("step", "Steps at edges", true, "as it was played", ["horn 1"])] }, []),
        Files = [("Orrery_Suite/audio/01_Horn.wav", 1_000_000, new string('a', 64)), ("Orrery_Suite/manifest.json", 500, new string('b', 64))],
        ManifestSha256 = new string('b', 64),
        Proof = ProofReport.Make("Orrery_Suite.zip", DemoSession.Stamp, [new ProofRow("Horn", "start", "1", "2", "1", false), new ProofRow("Package", "date", "the package's own word", "x", "stated", true), new ProofRow("Bell", "start", "1", "1", "0", true)], [new ClipDot("Horn", 1), new ClipDot("Bell", 0)], [new SoundResidual("Horn", double.NegativeInfinity, -140, false), new SoundResidual("Bell", -150.5, -140, true)]),
        HeardWords = "1 of 2 files heard, by Engineer (1); no fault.",
        Heard = [new ReportLine(DemoSession.Stamp, "Engineer", "01_Horn.wav heard")],
        NotHeard = [$"02_{Hostile}.wav"],
        Happened = [new ReportLine(DemoSession.Stamp.AddDays(1), Hostile, "link for Tarn Lane: said that all is here")],
        Key = DemoSession.Maker.Key.Public,
        WrittenBy = "Engineer",
        Written = DemoSession.Stamp.AddDays(2),
    };

    [Fact]
    public void It_says_what_was_sent_proved_accepted_heard_and_received()
    {
        var text = Encoding.UTF8.GetString(HandoverReport.Write(Facts()));
        foreach (var words in new[]
        {
            "revision 7, by Engineer", "10:00:00:00 +480", new string('b', 64), "1 of 2 clips arrive on their sample. 1 does not.", "3 comparisons, 1 differs; 2 clips, 1 on their sample",
            "<td>Horn<td>start<td>1<td>2<td>1", "the package&#39;s own word", "nothing: bit-exact", "−150.5 dBFS", "Steps at edges", "left it so", "as it was played", "1 of 2 files heard", "Nobody listened to: 02_",
            "22 Mar 2026 10:00:00 UTC", "said that all is here", "23 Mar 2026", DemoSession.Maker.Key.Public.Words, new string('a', 64),
        })
        {
            Assert.Contains(words, text, StringComparison.Ordinal);
        }

        // What passed and is no statement is counted, not listed.
        Assert.DoesNotContain("<td>Bell<td>start", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_in_it_runs_or_hides_whatever_a_name_says()
    {
        var text = Encoding.UTF8.GetString(HandoverReport.Write(Facts()));
        Assert.DoesNotContain("<script", text, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain('\u202e', text);
        Assert.Contains("[U+202E]evil", text, StringComparison.Ordinal);
        Assert.Contains("default-src 'none'", text, StringComparison.Ordinal);
        Assert.Equal(HandoverReport.Write(Facts()), HandoverReport.Write(Facts()));
    }

    [Fact]
    public void Its_signature_holds_to_the_byte_and_says_whose_it_is()
    {
        var (name, page) = (HandoverReport.NameOf("Orrery_Suite.zip"), HandoverReport.Write(Facts()));
        var path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, page);
        Assert.Contains("no signature beside", Assert.Throws<BadInputException>(() => SignedFile.Read(path)).Message, StringComparison.Ordinal);
        File.WriteAllBytes(HandoverReport.SignatureOf(path), DetachedSignature.Sign(page, DemoSession.Maker.Key, name).ToJson());
        var found = SignedFile.Read(path);
        Assert.True(found.IsWhole);
        Assert.Equal($"Orrery_Suite_report.html is as it was signed, by the hall's key: {DemoSession.Maker.Key.Public.Words}.", found.Words("the hall's key"));
        Assert.Contains("nobody here knows", found.Words(null), StringComparison.Ordinal);
        for (var at = 0; at < page.Length; at += 997)
        {
            var altered = page.ToArray();
            altered[at] ^= 1;
            File.WriteAllBytes(path, altered);
            Assert.False(SignedFile.Read(path).IsWhole);
        }

        File.WriteAllBytes(path, [.. page, 10]);
        Assert.Contains("is not what was signed", SignedFile.Read(path).Words("the hall's key"), StringComparison.Ordinal);
        var renamed = Path.Combine(_folder, "other.html");
        File.WriteAllBytes(renamed, page);
        Assert.Contains("under the name Orrery_Suite_report.html", SignedFile.Read(renamed, HandoverReport.SignatureOf(path)).Words(null), StringComparison.Ordinal);
        Assert.Throws<BadInputException>(() => SignedFile.Read(Path.Combine(_folder, "gone.html")));
        File.WriteAllText(HandoverReport.SignatureOf(path), "{}");
        Assert.Throws<BadInputException>(() => SignedFile.Read(path));
    }

    [Fact]
    public void A_package_s_manifest_is_verified_in_the_same_way()
    {
        using var zip = System.IO.Compression.ZipFile.OpenRead(demo.Build(demo.Plan()));
        foreach (var name in new[] { "manifest.json", "manifest.sig" })
        {
            System.IO.Compression.ZipFileExtensions.ExtractToFile(zip.Entries.Single(e => e.Name == name), Path.Combine(_folder, name));
        }

        Assert.True(SignedFile.Read(Path.Combine(_folder, "manifest.json")).IsWhole);
    }
}
