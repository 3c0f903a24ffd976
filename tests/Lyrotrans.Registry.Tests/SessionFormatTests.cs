using System.Text.Json.Nodes;
using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Inspect;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Registry.Tests;

/// <summary>What every format of the list must do, whichever it is; one that is made up here is among them, with tempo and notes of its own.</summary>
public sealed class SessionFormatTests(DemoOnDisk demo) : IClassFixture<DemoOnDisk>, IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-formats-").FullName;

    public static TheoryData<string> Formats => new(SessionFormats.OfClips.Select(f => f.Id));

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static IClipFormat Of(string id) => (IClipFormat)SessionFormats.Get(id);

    private (string Path, Preparation Preparation) Written(string id, string name = "x", Func<ClipChoices, ClipChoices>? change = null)
    {
        var path = Path.Combine(_folder, name, $"suite{Of(id).Extension}");
        var preparation = SessionConvert.Prepared(demo.Loaded, path, null, string.Empty);
        preparation = preparation with { Clips = (change ?? (c => c with { Trimmed = true }))(preparation.Clips) };
        SessionConvert.Write(demo.Loaded, preparation, path, DemoOnDisk.Maker, CancellationToken.None);
        return (path, preparation);
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public void What_is_written_is_found_as_it_was_meant(string id)
    {
        var (path, preparation) = Written(id);
        var plan = SessionConvert.PlanOf(demo.Loaded, preparation);
        using var stream = File.OpenRead(path);
        var found = SessionDocuments.Open(stream, id).ReadSession();
        Assert.Empty(SessionRules.Check(found.Session));
        var rows = SessionComparison.Compare(plan.ClipFiles[0].Session, found.Session, HeldValues.OfClips);
        Assert.NotEmpty(rows);
        Assert.All(rows, r => Assert.True(r.Passed, r.ToString()));
        var report = FileProof.Prove(path, demo.Loaded, Path.Combine(_folder, "scratch"), _ => { }, CancellationToken.None);
        Assert.True(report.Passed, string.Join('\n', report.Rows.Where(r => !r.Passed)));
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public void The_same_session_and_choices_give_the_same_bytes(string id)
    {
        Assert.Equal(File.ReadAllBytes(Written(id, "a").Path), File.ReadAllBytes(Written(id, "b").Path));
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public void Its_files_are_known_by_their_content_and_by_no_other_format(string id)
    {
        var nameless = Path.Combine(_folder, "nameless");
        File.Copy(Written(id).Path, nameless);
        using var stream = File.OpenRead(nameless);
        Assert.Equal(ContentKind.Session, ContentSniffer.Recognise(stream));
        Assert.Equal(id, ContentSniffer.FormatOf(stream)!.Id);
        foreach (var other in SessionFormats.All.Where(f => f.Id != id))
        {
            stream.Position = 0;
            Assert.Throws<BadInputException>(() => other.Open(stream, "other").ReadSession());
        }
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public void A_damaged_file_is_refused_with_words_or_read_and_never_breaks(string id)
    {
        var whole = File.ReadAllBytes(Written(id, change: c => c with { Media = ClipMediaForm.BesideWave }).Path);
        var format = Of(id);
        var random = new Random(7);
        var (refused, read) = (0, 0);
        for (var i = 0; i < 160; i++)
        {
            var bytes = i % 4 == 0 ? whole[..random.Next(whole.Length)] : (byte[])whole.Clone();
            for (var n = 1 << random.Next(6); n > 0 && bytes.Length > 0; n--)
            {
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            }

            try
            {
                format.Open(new MemoryStream(bytes), "damaged").ReadSession();
                read++;
            }
            catch (BadInputException problem)
            {
                Assert.Contains("damaged", problem.Message, StringComparison.Ordinal);
                refused++;
            }
        }

        // Some of both: a reader that takes everything, or nothing, does not look.
        Assert.True(refused > 10, $"{refused} refused, {read} read");
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public void Inspection_tells_every_clip_where_it_was_meant(string id)
    {
        var (path, preparation) = Written(id);
        var meant = SessionConvert.PlanOf(demo.Loaded, preparation).ClipFiles[0].Session;
        var told = Inspection.Of(path);
        var tracks = told["tracks"]!.AsArray().Select(t => t!["clips"]!.AsArray().Select(Place).ToList()).Where(t => t.Count > 0);
        Assert.Equal(meant.Tracks.Select(t => (t.Sounding?.Clips ?? []).Select(c => (c.Start, c.Length, c.SourceOffset)).ToList()).Where(t => t.Count > 0), tracks);
    }

    private static (long Start, long Length, long Offset) Place(JsonNode? clip) => ((long)clip!["start"]!, (long)clip["length"]!, (long)clip["sourceOffset"]!);

    [Theory]
    [MemberData(nameof(Formats))]
    public void It_goes_from_intake_to_proof(string id)
    {
        // Intake: recognised, what lies inside it taken out, joined to one session.
        var files = new Dictionary<string, string>();
        IntakeItem Item(string path, string name)
        {
            var sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(File.ReadAllBytes(path)));
            files[sha256] = path;
            return Examiner.Examine(new DiskFile(path), name, sha256);
        }

        var (path, _) = Written(id);
        var document = Item(path, "suite");
        Assert.Equal((ContentKind.Session, id, null), (document.Kind, document.Format, document.Error));
        var inside = Directory.CreateDirectory(Path.Combine(_folder, "inside")).FullName;
        using var held = EmbeddedMedia.Open(new DiskFile(path), "suite");
        var items = held.Extract(inside, CancellationToken.None).Select(m => Item(m.Path, m.Names[0])).ToList();
        var beside = Path.Combine(Path.GetDirectoryName(path)!, "media");
        items.AddRange(Directory.Exists(beside) ? Directory.EnumerateFiles(beside).Select(f => Item(f, Path.GetFileName(f))) : []);
        var state = IntakeState.FromJson(new IntakeState { SessionName = "suite", Items = [document, .. items] }.ToJson());
        var joined = SessionJoin.Join(state, sha256 => File.OpenRead(files[sha256]));
        Assert.All(joined.Missing, m => Assert.Contains(demo.Loaded.Session.Media, known => known.Place == MediaPlace.Missing && m.FileName.StartsWith(Path.GetFileNameWithoutExtension(known.FileName), StringComparison.Ordinal)));
        var session = joined.Session;
        Assert.NotEmpty(session.Tracks);
        Assert.Equal(Of(id).Clips.OtherTracks != Held.No, session.Tracks.Any(t => t.Kind == TrackKind.Notes));
        Assert.Equal(Of(id).Clips.Music != Held.No, session.Tempo.Points.Count > 1);

        // Prepared for the same format, by a document that says so, with every option at its last value.
        var preparation = Preparation.Default(session, Of(id).Clips);
        preparation = preparation with
        {
            Clips = preparation.Clips with { Options = Of(id).Clips.Options.Aggregate(new FormatChoices(), (chosen, o) => chosen.With(o, o.Values[^1].Id)) },
            Tracks = PreparationTreatment.OfAudio(preparation, session, Treatment.KeepClips),
        };
        Assert.Equal(preparation, PreparationDocument.Read(PreparationDocument.Write(preparation), "p"));

        // Planned, carried, built and proved.
        var media = new MappedMedia(session.Media.Where(m => m.Sha256 is not null && files.ContainsKey(m.Sha256)).ToDictionary(m => m.Id, m => files[m.Sha256!]), _folder);
        var plan = DeliveryPlan.Make(session, preparation, SoundMeasures.FromFiles(session, media, CancellationToken.None));
        var carry = CarryPlan.Of(plan);
        Assert.Contains(id, carry.Columns);
        Assert.Equal(0, carry.LostWithoutAWord);
        var column = carry.Columns.ToList().IndexOf(id);
        Assert.Equal(Of(id).Clips.Music == Held.Yes ? Fate.Carried : Fate.None, carry.Rows.First(r => r.Kind == "Tempo").Objects[0].Fates[column]);
        var zip = Path.Combine(_folder, "p.zip");
        PackageFile.Build(plan, media, zip, DemoOnDisk.Maker, _ => { }, CancellationToken.None);
        var report = PackageProof.Prove(new DiskFile(zip), "p.zip", plan, media, _ => { }, CancellationToken.None);
        Assert.True(report.Passed, string.Join('\n', report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.NotEmpty(report.Clips);
    }

    [Fact]
    public void Every_format_says_itself_once()
    {
        Assert.Equal(SessionFormats.All.Count, SessionFormats.All.Select(f => f.Id).Distinct().Count());
        Assert.Equal(SessionFormats.All.Count, SessionFormats.All.Select(f => f.Extension).Distinct().Count());
        var options = SessionFormats.OfClips.SelectMany(f => f.Clips.Options).Select(o => o.Id).ToList();
        Assert.Equal(options.Count, options.Distinct().Count());
        Assert.All(SessionFormats.OfClips, f => Assert.Equal((f.Id, f.Extension), (f.Clips.Id, f.Clips.Extension)));
        Assert.Contains("LANTERN", SessionConvert.Outputs("or").ToUpperInvariant(), StringComparison.Ordinal);
        Assert.Throws<ArgumentException>(() => SessionFormats.Get("a format that is not there"));
        Assert.Throws<ArgumentException>(() => SessionFormats.Get(Lantern.LanternFormat.Holds with { Id = "another" }));
    }
}
