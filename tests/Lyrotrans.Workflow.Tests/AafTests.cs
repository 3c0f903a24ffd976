using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>AAF files that other software wrote, with equal contents, through to a package that passes its proof.</summary>
public sealed class AafTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-aaf-").FullName;

    public static TheoryData<string> Names => new(Directory.EnumerateFiles(Fixtures.Path("aaf"), "*.aaf").Select(f => Path.GetFileNameWithoutExtension(f)).Order());

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static string Fixture(string name) => Fixtures.Path($"aaf/{name}.aaf");

    [Theory]
    [MemberData(nameof(Names))]
    public void Its_contents_are_equal(string name)
    {
        Assert.Empty(ContentsCompared.Differences(Fixture(name), Fixtures.Path($"aaf/{name}.json"), name == "missing-media", "how"));
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void It_makes_a_session_that_breaks_no_rule_and_keeps_every_whole_place(string name)
    {
        using var stream = File.OpenRead(Fixture(name));
        var composition = AafDocument.Open(stream, name).Read();
        var (session, _) = EditImport.Make(composition);
        Assert.Empty(SessionRules.Check(session));
        Assert.Equal(composition.Tracks.Select(t => t.Name), session.Tracks.Select(t => t.Name));
        foreach (var (track, made) in composition.Tracks.Zip(session.Tracks))
        {
            Assert.Equal(track.Clips.Select(c => (c.Start.RoundToEven(), c.End.RoundToEven() - c.Start.RoundToEven(), c.Muted)), made.Sounding!.Clips.Select(c => (c.Start, c.Length, c.Muted)));
        }

        Assert.Equal(composition.StartFrames, session.Start.Frames);
    }

    [Theory]
    [InlineData("embedded-pcm")]
    [InlineData("embedded-wave")]
    [InlineData("crossfades")]
    [InlineData("automation")]
    [InlineData("nested")]
    [InlineData("frame-units")]
    [InlineData("pairs")]
    public void Files_from_zero_of_it_pass_their_proof(string name) => FromZero.Passes(Fixture(name), _folder);

    public static TheoryData<string, string> Conversions
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var name in Directory.EnumerateFiles(Fixtures.Path("aaf"), "*.aaf").Select(f => Path.GetFileNameWithoutExtension(f)).Order())
            {
                data.Add(name, "{}");
                data.Add(name, """{"clips":{"media":"beside, WAVE","monoOnly":false,"trimmed":true,"handle":0}}""");
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Conversions))]
    public void Written_again_it_holds_the_same_session(string name, string sheet)
    {
        var output = Path.Combine(_folder, "again.aaf");
        var loaded = SessionLoader.Load(Fixture(name), Path.Combine(_folder, "scratch"));
        var choices = SessionConvert.Prepared(loaded, output, System.Text.Encoding.UTF8.GetBytes(sheet), "sheet");
        SessionConvert.Write(loaded, choices, output, DemoSession.Maker, CancellationToken.None);
        var missing = loaded.Session.Media.Where(m => m.Place == MediaPlace.Missing).Select(m => $"missing {m.FileName}").ToList();
        Assert.Equal(missing.Count == 0, FileProof.Prove(output, loaded, Path.Combine(_folder, "scratch"), _ => { }, CancellationToken.None).Passed);
        var report = FileProof.Prove(output, loaded, Path.Combine(_folder, "scratch"), _ => { }, CancellationToken.None, accepted: missing);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));

        // And once more, which must change nothing at all.
        var again = SessionLoader.Load(output, Path.Combine(_folder, "scratch"));
        Assert.Equal(loaded.Session.Markers.Select(m => (m.Text, m.Sample)), again.Session.Markers.Select(m => (m.Text, m.Sample)));
        Assert.Equal(loaded.Session.Comments.ToArray(), again.Session.Comments.ToArray());
        Assert.Equal(
            loaded.Session.Tracks.SelectMany(t => t.Sounding!.Clips).Select(c => (c.Start, c.Length, c.GainDb, c.FadeIn, c.FadeOut, c.Muted)),
            again.Session.Tracks.SelectMany(t => t.Sounding!.Clips).Select(c => (c.Start, c.Length, c.GainDb, c.FadeIn, c.FadeOut, c.Muted)));
    }

    [Fact]
    public void A_name_in_it_that_climbs_out_writes_nothing_outside()
    {
        var home = Path.Combine(_folder, "home");
        var loaded = SessionLoader.Load(Fixture("embedded-wave"), Path.Combine(_folder, "scratch"));
        var climbing = loaded with { Session = loaded.Session with { Media = loaded.Session.Media.Select(m => m with { FileName = $"../../{m.FileName}" }).ToValueArray(), Name = "../out" } };
        foreach (var output in new[] { "a/x.aaf", "b/x.session.json", "c" }.Select(o => Path.Combine(home, "deep", o)))
        {
            var sheet = System.Text.Encoding.UTF8.GetBytes("""{"clips":{"media":"beside, WAVE"}}""");
            SessionConvert.Write(climbing, SessionConvert.Prepared(climbing, output, sheet, "sheet"), output, DemoSession.Maker, CancellationToken.None);
        }

        Assert.All(Directory.EnumerateFiles(_folder, "*.wav", SearchOption.AllDirectories), f => Assert.StartsWith(Path.Combine(home, "deep"), f));
        Assert.Equal([Path.Combine(home, "deep")], Directory.EnumerateFileSystemEntries(home));
    }

    [Fact]
    public void Media_inside_it_come_out_as_files_and_a_linked_one_is_found_by_either_name()
    {
        using var held = EmbeddedMedia.Open(new DiskFile(Fixture("embedded-pcm")), "e.aaf");
        var media = held.Extract(Directory.CreateDirectory(Path.Combine(_folder, "out")).FullName, CancellationToken.None).ToList();
        Assert.Equal(["e.aaf media/piano.wav", "e.aaf media/timpani.wav"], media.Select(m => m.Names[0]).Order());
        foreach (var (said, _, path) in media)
        {
            using var sound = SoundFile.Open(new DiskFile(path), said.FileName);
            Assert.Equal((said.Length, said.Channels, said.Rate), (sound.Facts.Frames, sound.Facts.Channels, sound.Facts.SampleRate));
        }

        using var stream = File.OpenRead(Fixture("missing-media"));
        var cryptic = EditImport.Make(AafDocument.Open(stream, "m.aaf").Read()).Session.Media.First(m => m.FileName == "Hall pair.L.wav");
        Assert.Equal("A0419B7C.wav", cryptic.Identifiers[1]);
    }

    [Fact]
    public void It_leads_at_intake_and_its_media_are_found_beside_and_inside_it()
    {
        var paths = new Dictionary<string, string>();
        IntakeItem Item(string path, string name)
        {
            using var bytes = File.OpenRead(path);
            var sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
            paths[sha256] = path;
            return Examiner.Examine(new DiskFile(path), name, sha256);
        }

        var aaf = Item(Fixture("crossfades"), "in/x.aaf");
        Assert.Equal((ContentKind.Session, "AAF"), (aaf.Kind, aaf.Format));
        Assert.Contains("1 track", aaf.Brings);
        var sound = Item(Fixtures.Path("aaf/narrator-01.wav"), "in/narrator-01.wav");
        var joined = SessionJoin.Join(new IntakeState { Items = [aaf, sound] }, sha => File.OpenRead(paths[sha]));
        Assert.Empty(joined.Missing);
        Assert.Equal("Narrator", Assert.Single(joined.Session.Tracks).Name);
        Assert.Equal(sound.Sha256, Assert.Single(joined.Session.Media).Sha256);
        Assert.Equal("Orrery Suite, crossfades", joined.Session.Name);

        var whole = Item(Fixture("embedded-wave"), "y.aaf");
        using var held = EmbeddedMedia.Open(new DiskFile(Fixture("embedded-wave")), "y.aaf");
        var inner = held.Extract(_folder, CancellationToken.None).Select(m => Item(m.Path, m.Names[0])).ToList();
        var embedded = SessionJoin.Join(new IntakeState { Items = [whole, .. inner] }, sha => File.OpenRead(paths[sha]));
        Assert.Empty(embedded.Missing);
        Assert.Equal(2, embedded.Session.Tracks.Count);
    }
}
