using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The grid and the click of a package, found again in what was written.</summary>
public sealed class GridAndClickTests(DemoSession demo)
{
    private static readonly ClickChoices s_click = new(Print: true, Midi: true, CountInBars: 1);

    private static byte[] Read(string zip, PlannedFile file)
    {
        using var package = PackageReader.Open(new DiskFile(zip), "p.zip");
        return package.Read(file.Path);
    }

    private static SmfFile Midi(string zip, DeliveryPlan plan) =>
        SmfReader.Read(new MemoryStream(Read(zip, plan.Files.First(f => f.Kind == PlannedKind.Midi))), "m.mid");

    [Theory]
    [InlineData(SampleEncoding.Integer24, SoundContainer.Wav, CountIn.AllFiles)]
    [InlineData(SampleEncoding.Integer16, SoundContainer.Flac, CountIn.ClickAlone)]
    [InlineData(SampleEncoding.Float32, SoundContainer.Wav, CountIn.ClickAlone)]
    public void The_click_is_found_on_every_beat(SampleEncoding encoding, SoundContainer container, CountIn countIn)
    {
        var plan = demo.Plan(p => p with { Encoding = encoding, Container = container, Click = s_click with { CountIn = countIn } });
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        var onsets = Assert.Single(report.Rows, r => r is { Subject: "Click", What: "onsets" });
        Assert.Equal("0", onsets.Difference);
        Assert.EndsWith(", 0 off", onsets.Found);
    }

    [Fact]
    public void A_count_in_moves_every_file_or_the_click_alone_and_the_stamp_says_so()
    {
        var all = demo.Plan(p => p with { Click = s_click });
        var alone = demo.Plan(p => p with { Click = s_click with { CountIn = CountIn.ClickAlone } });

        // A bar of 4/4 at 92 and the three beats before the pick-up.
        var early = demo.Loaded.Session.Clock.SampleAt(-8);
        Assert.Equal((early, early), (all.Range.Start, all.ClickRange.Start));
        Assert.Equal((0L, early), (alone.Range.Start, alone.ClickRange.Start));
        var zip = demo.Build(alone);
        long Stamp(PlannedFile file) => WaveReader.Read(new MemoryStream(Read(zip, file)), "w").Broadcast!.TimeReference;
        Assert.Equal(1_728_000_000 + early, Stamp(alone.Files.Single(f => f.Kind == PlannedKind.Click)));
        Assert.Equal(1_728_000_000, Stamp(alone.Files.First(f => f.Kind == PlannedKind.FromZero)));
        Assert.Contains($"begins {Core.Naming.Digits.Grouped(-early)} samples before the others", System.Text.Encoding.UTF8.GetString(Read(zip, alone.Files.Single(f => f.Kind == PlannedKind.SessionSheet))));
    }

    [Fact]
    public void A_click_one_sample_late_fails_and_the_beats_are_named()
    {
        var plan = demo.Plan(p => p with { Click = s_click });
        var report = demo.Prove(PackageTamper.With(demo.Build(plan), "Click.wav", w => PackageTamper.Shifted(w, 1)), plan);
        var onsets = report.Rows.Single(r => r is { Subject: "Click", What: "onsets" });
        Assert.False(onsets.Passed);
        Assert.Equal("1", onsets.Difference);
        Assert.Contains(report.Rows, r => r is { Subject: "Click, bar 1 beat 1", What: "onset", Difference: "1", Passed: false });
    }

    [Theory]
    [InlineData(Core.Sound.SampleEncoding.Integer16)]
    [InlineData(Core.Sound.SampleEncoding.Integer24)]
    [InlineData(Core.Sound.SampleEncoding.Float32)]
    public void A_click_at_full_scale_is_held_as_other_prints_are(Core.Sound.SampleEncoding encoding)
    {
        var plan = demo.Plan(p => p with { Click = s_click with { LevelDb = 0 }, Encoding = encoding });
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        Assert.Equal(encoding != Core.Sound.SampleEncoding.Float32, report.Rows.Any(r => r is { Subject: "Click", What: "overs" }));
    }

    [Fact]
    public void The_click_as_notes_lies_on_the_beats_of_the_file()
    {
        var plan = demo.Plan(p => p with { Click = s_click });
        var file = Midi(demo.Build(plan), plan);
        var click = SmfContents.Of(file).Tracks.Single(t => t.Name == "Click");
        var lead = new MidiGrid(plan.Session, plan.Range.Start).Lead;
        var beats = ClickTrack.Beats(plan.Session, s_click, plan.Range);
        Assert.Equal(beats.Select(b => ((b.Beat.Quarter + lead) * file.TicksPerQuarter).RoundToEven()), click.Notes.Select(n => n.Tick));
    }

    [Theory]
    [InlineData(TempoForm.Corrected)]
    [InlineData(TempoForm.Within10)]
    [InlineData(TempoForm.Plain)]
    public void The_map_goes_out_and_comes_in_with_no_tick_of_difference(TempoForm tempo)
    {
        var session = demo.Loaded.Session;
        var plan = demo.Plan(p => p with { Midi = new MidiChoices(MidiForm.OneFile, tempo) });
        var back = MidiImport.Read(Midi(demo.Build(plan), plan), "back", session.Rate);
        Assert.Equal(session.Bar1Sample, back.Bar1Sample);
        Assert.Equal(session.Meters, back.Meters);
        Assert.Equal(session.Keys, back.Keys);

        // Every note at its quarter, exactly.
        static IEnumerable<(Rational, Rational, int, int, int)> Notes(Session s) => s.Tracks.Where(t => t.Kind == TrackKind.Notes).SelectMany(t => t.Parts).Where(p => !p.Muted)
            .SelectMany(p => p.Notes.Select(n => (Start: p.StartQuarter + new Rational(n.Tick, p.TicksPerQuarter), End: new[] { p.StartQuarter + new Rational(n.Tick + n.Length, p.TicksPerQuarter), p.EndQuarter }.Min(), n.Channel, n.Key, n.Velocity)))
            .OrderBy(n => n.Start).ThenBy(n => n.Channel).ThenBy(n => n.Key).ThenBy(n => n.End);
        Assert.Equal(Notes(session), Notes(back));

        // Every beat of every bar on its sample, and every marker on the tick that is nearest to it.
        foreach (var beat in session.Meters.BeatsFrom(0).Take(200))
        {
            // A wider bound moves bar 1 too, and what is read has it on a whole sample.
            var most = tempo == TempoForm.Within10 ? 10.5 : 1;
            Assert.InRange((back.Clock.ExactSampleAt(beat.Quarter) - session.Clock.ExactSampleAt(beat.Quarter)).ToDouble(), -most, most);
        }

        long Tick(Session s, Marker m) => (s.Clock.QuarterAt(m.Sample) * 480).RoundToEven();
        Assert.Equal(session.Markers.Select(m => (m.Text, Tick(session, m), m.Length > 0)), back.Markers.Select(m => (m.Text, Tick(back, m), m.Length > 0)));
    }

    [Theory]
    [InlineData(MidiForm.TrackPerPart, false)]
    [InlineData(MidiForm.FilePerPart, false)]
    [InlineData(MidiForm.FilePerPart, true)]
    public void Parts_apart_pass_their_proof(MidiForm form, bool muted)
    {
        var plan = demo.Plan(p => p with { Midi = new MidiChoices(form, MutedParts: muted) });
        var zip = demo.Build(plan);
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        var parts = plan.NotesTracks().SelectMany(t => t.Parts).Count(p => muted || !p.Muted);
        Assert.Equal(form == MidiForm.FilePerPart ? parts + 1 : 1, plan.Files.Count(f => f.Kind == PlannedKind.Midi));
        if (form == MidiForm.TrackPerPart)
        {
            Assert.Equal(parts + 1, Midi(zip, plan).Tracks.Count);
        }

        foreach (var file in plan.Files.Where(f => f.PartId is not null))
        {
            var contents = SmfContents.Of(SmfReader.Read(new MemoryStream(Read(zip, file)), file.Path));
            Assert.Equal(SmfContents.Of(Midi(zip, plan)).Tempos, contents.Tempos);
            Assert.True(contents.Tracks[1].Notes.Count > 0);
        }
    }

    [Fact]
    public void A_grid_that_strays_fails_when_it_was_to_be_corrected()
    {
        var plan = demo.Plan();
        var zip = PackageTamper.With(demo.Build(plan), ".mid", bytes =>
        {
            var file = SmfReader.Read(new MemoryStream(bytes), "m");
            var events = file.Tracks[0].Events.Select(e => e.IsMeta && e.Meta == SmfMeta.Tempo && e.Tick > 0 ? e with { Data = [e.Data[0], e.Data[1], (byte)(e.Data[2] ^ 64)] } : e);
            return SmfWriter.Write(file with { Tracks = [new SmfTrack([.. events], file.Tracks[0].EndTick), .. file.Tracks.Skip(1)] });
        });
        var report = demo.Prove(zip, plan);
        Assert.Contains(report.Rows, r => r is { What: "grid against sound", Passed: false });
    }

    [Fact]
    public void The_marker_list_of_a_package_reads_back_and_a_changed_one_fails()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        var rows = MarkerListReader.Read(new MemoryStream(Read(zip, plan.Files.Single(f => f.Kind == PlannedKind.MarkerList))), "m.csv");
        Assert.Equal(demo.Loaded.Session.Markers.Select(m => m.Text), rows.Select(r => r.Text));
        var changed = PackageTamper.With(zip, "_markers.csv", b => System.Text.Encoding.UTF8.GetBytes(System.Text.Encoding.UTF8.GetString(b).Replace("31304", "31305", StringComparison.Ordinal)));
        Assert.Contains(demo.Prove(changed, plan).Rows, r => r is { Subject: "Markers", Passed: false, Difference: "1" });
    }
}
