using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Single;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Delivering;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>One session goes to four receivers, each in a way of its own; all are proved, and each carry plan has the numbers that were found.</summary>
public class FourReceiversTests(DemoSession demo)
{
    private static readonly string[] s_kept = ["horn-close", "narrator", "hall-l", "hall-r", "timpani"];

    private Session Session => demo.Loaded.Session;

    private Preparation Usual => Preparation.Default(Session, SessionFormats.Usual).Accepting(["instrument Celesta", "instrument Harp", "instrument Bass drum"]);

    private ReceiverList Receivers() => ReceiverList.Of(
        [
            new Receiver("1", "Tarn Lane mixing room", Usual with
            {
                Rate = 96_000,
                Clips = Choose.Aaf with { Trimmed = true, Handle = 500, NamedAfterTracks = true },
                Tracks = [.. Usual.Tracks.Select(c => s_kept.Contains(c.TrackId) ? c with { Treatment = Treatment.KeepClips } : c)],
            }),
            new Receiver("2", "a rehearsal room", Usual with { From = RangeStart.Bar1, Container = SoundContainer.Flac, Click = new ClickChoices { Print = true, CountInBars = 1, CountIn = CountIn.ClickAlone } }),
            new Receiver("3", "the planetarium", Usual with
            {
                Encoding = SampleEncoding.Float32,
                Mix = new MixChoices(Stems: true, Finished: true, Sounding: MixSounding.AllHere),
                Tracks = [.. Usual.Tracks.Select(c => c.Treatment == Treatment.HoldBack ? c : c with { Treatment = Treatment.StemOnly })],
            }),
            new Receiver("4", "a session player", Usual),
        ],
        5);

    private DeliveryPlan Plan(Receiver receiver) => DeliveryPlan.Make(Session, receiver.Preparation, SoundMeasures.FromFiles(Session, demo.Loaded.Media, CancellationToken.None));

    private ProofReport Proved(DeliveryPlan plan)
    {
        Assert.Null(plan.Problem);
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        return report;
    }

    private static long Counted(ProofReport report, string what)
    {
        var row = report.Rows.Single(r => r.Subject == "Carry plan" && r.What == what);
        Assert.Equal(row.Meant, row.Found);
        return long.Parse(string.Concat(row.Found.Where(char.IsAsciiDigit)), System.Globalization.CultureInfo.InvariantCulture);
    }

    private static long Carried(DeliveryPlan plan, string kind, string column)
    {
        var carry = CarryPlan.Of(plan);
        var at = carry.Columns.ToList().IndexOf(column);
        return carry.Rows.Single(r => r.Kind == kind) is var row ? row.Count(at, Fate.Carried) + row.Count(at, Fate.Converted) : 0;
    }

    [Fact]
    public void Clips_and_prints_at_96_kHz()
    {
        var plan = Plan(Receivers()["1"]!);
        var report = Proved(plan);
        Assert.All(plan.Files.Where(f => f.IsSound), f => Assert.Equal(96_000, f.Made.Rate.HeaderHz));
        Assert.Equal(96_000, plan.Clips!.Session.Rate.HeaderHz);
        Assert.Equal(Carried(plan, CarryPlan.ClipPositions, "AAF"), Counted(report, "clips in AAF"));
        Assert.Equal(plan.Session.Tracks.Where(t => s_kept.Contains(t.Id)).Sum(t => t.Sounding!.Clips.Count(c => !c.Muted)), Counted(report, "clips in AAF"));
        Assert.Equal(Carried(plan, CarryPlan.Notes, "MIDI"), Counted(report, "notes in MIDI"));
    }

    [Fact]
    public void Files_from_bar_1_in_FLAC_with_a_click()
    {
        var plan = Plan(Receivers()["2"]!);
        var report = Proved(plan);
        Assert.Equal(Session.Bar1Sample, plan.Range.Start);
        Assert.All(plan.Files.Where(f => f.IsSound), f => Assert.EndsWith(".flac", f.Path, StringComparison.Ordinal));
        Assert.Single(plan.Files, f => f.Kind == PlannedKind.Click);

        // Clips that end before bar 1 are in no print, and are not counted as printed.
        var carry = CarryPlan.Of(plan);
        var gone = Session.Tracks.Where(t => plan.Preparation.Tracks.Any(c => c.TrackId == t.Id && c.Treatment.IsPrint())).SelectMany(t => t.Sounding?.Clips ?? []).Count(c => c.End <= Session.Bar1Sample || c.Muted);
        var row = carry.Rows.Single(r => r.Kind == CarryPlan.ClipPositions);
        var prints = carry.Columns.ToList().IndexOf("prints");
        Assert.Equal(row.Objects.Count(o => o.Fates[prints] == Fate.None), gone);
        Assert.Equal(Carried(plan, CarryPlan.Notes, "MIDI"), Counted(report, "notes in MIDI"));
        Assert.Equal(Session.Markers.Count, Counted(report, "markers in the list"));
    }

    [Fact]
    public void Stems_and_a_trimmed_finished_mix()
    {
        var plan = Plan(Receivers()["3"]!);
        var report = Proved(plan);
        Assert.DoesNotContain(plan.Files, f => f.Kind == PlannedKind.FromZero);
        Assert.Equal(StemGroup.Of(plan.Session, plan.Preparation).Count, plan.Files.Count(f => f.Kind == PlannedKind.Stem));
        var (stem, mix) = (plan.Files.First(f => f.Kind == PlannedKind.Stem), plan.Files.Single(f => f.Kind == PlannedKind.FinishedMix));
        Assert.True(mix.Frames < stem.Frames);
        Assert.Equal(SampleEncoding.Integer16, mix.Made.Encoding);
        Assert.InRange(report.Stems!.WorstDb, double.NegativeInfinity, report.Stems.BoundDb);
        Assert.Equal(0, Counted(report, "notes in MIDI"));
        Assert.Equal(0, Carried(plan, CarryPlan.Notes, "MIDI"));
    }

    [Fact]
    public void Notes_of_one_part_as_a_bundle()
    {
        var part = Session.Tracks.Single(t => t.Id == "harp").Parts[0];
        var (thing, problem) = OneThingPlan.Of(new OneThing("harp", null, part.Id, null, OneForm.Bundle), Session, Receivers()["4"]!.Preparation, SoundMeasures.FromFiles(Session, demo.Loaded.Media, CancellationToken.None));
        Assert.Null(problem);
        using var made = OneThingFile.Make(thing!, demo.Loaded.Media, DemoSession.Maker, DemoSession.Known, CancellationToken.None);
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.zip");
        using (var to = File.Create(path))
        using (var from = made.Open())
        {
            from.CopyTo(to);
        }

        // Proved once more from the file that was given out.
        var report = demo.Prove(path, thing!.Plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Equal(part.Notes.Count, Counted(report, "notes in MIDI"));
        Assert.Equal(Carried(thing.Plan, CarryPlan.Notes, "MIDI"), Counted(report, "notes in MIDI"));
    }

    // Forms beneath bring things twice, muted clips that cross leave some behind, and equal controllers are two.
    [Theory]
    [InlineData(true, MidiForm.OneFile, 48_000)]
    [InlineData(false, MidiForm.FilePerPart, 44_100)]
    public void Counts_hold_with_forms_beneath_muted_clips_and_equal_controllers(bool muted, MidiForm midi, int rate)
    {
        var session = Session with
        {
            Tracks = [.. Session.Tracks.Select(t => t.Id == "celesta" ? t with { Parts = [.. t.Parts.Select(p => p with { Controls = [.. Enumerable.Repeat(new NoteControl(0, NoteControlKind.Controller, 0, 7, 90), 3), .. p.Controls] })] } : t)],
        };
        BeneathChoice[] Beneath(string id) => id switch { "cello" or "narrator" => [new BeneathChoice(Treatment.KeepClips)], "celesta" => [new BeneathChoice(Treatment.NotesAndPrint)], _ => [] };
        var preparation = Usual with
        {
            From = RangeStart.Chosen,
            ChosenStart = 60_000,
            Rate = rate,
            Midi = Usual.Midi with { Form = midi },
            Sheet = new SheetTerms("s") { MutedClips = muted },
            Clips = Choose.Aaf with { Fades = Core.ClipFormats.FadeForm.Transitions },
            Tracks = [.. Usual.Tracks.Select(c => c with { Beneath = [.. Beneath(c.TrackId)], Spares = c.TrackId == "narrator" })],
        };
        var plan = DeliveryPlan.Make(session, preparation, SoundMeasures.FromFiles(session, demo.Loaded.Media, CancellationToken.None));
        var loaded = demo.Loaded with { Session = session };
        var report = demo.Prove(demo.Build(plan, loaded), plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.True(Counted(report, "clips in AAF") > 0);
        Assert.True(Counted(report, "controllers in MIDI") > 0);
    }

    [Fact]
    public void What_is_counted_is_what_was_found()
    {
        var plan = Plan(Receivers()["4"]!);
        var zip = PackageTamper.With(demo.Build(plan), "_markers.csv", bytes => System.Text.Encoding.UTF8.GetBytes(string.Join('\n', System.Text.Encoding.UTF8.GetString(bytes).Split('\n')[..^2])));
        Assert.Contains(demo.Prove(zip, plan).Rows, r => r is { Subject: "Carry plan", What: "markers in the list", Passed: false });
    }
}
