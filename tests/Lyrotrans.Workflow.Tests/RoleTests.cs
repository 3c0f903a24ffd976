using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Placing;
using Lyrotrans.Workflow.Roles;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Prints, stems and mixes that came along take the place of what would be made here: a session of its own prints sounds as it did, to a float's last bits.</summary>
public class RoleTests(RolePackage made) : IClassFixture<RolePackage>
{
    private const double FloatDb = -120;

    [Fact]
    public void Nothing_sounds_twice_and_nothing_is_lost_where_tracks_returns_and_buses_came_as_prints()
    {
        var loaded = Brought()
            .Add(Of(made.Plan, "celesta"), TrackKind.Print, "celesta")
            .Add(Of(made.Plan, "double-bass"), TrackKind.Print, "double-bass")
            .Add(Of(made.Plan, "long-hall"), TrackKind.Print, "long-hall").Loaded();
        var plan = made.Of(loaded);
        var (zip, report) = Proved(plan, loaded);
        Assert.Equal(made.Plan.Range, plan.Range);
        Assert.InRange(Difference(made.Package, Guide(made.Plan), zip, Guide(plan)), double.NegativeInfinity, FloatDb);

        // Each goes as it came, and no file says that it is a stand-in where it is none.
        foreach (var track in new[] { "celesta", "double-bass", "long-hall" })
        {
            Assert.Equal(double.NegativeInfinity, Difference(made.Package, Of(made.Plan, track), zip, Of(plan, track)));
        }

        Assert.DoesNotContain("stand-in", Of(plan, "celesta").Path, StringComparison.Ordinal);
        Assert.Contains("stand-in", Of(plan, "harp").Path, StringComparison.Ordinal);

        // The hall is a stem of its own: nobody can say which part of it is whose.
        Assert.Contains(plan.Files, f => f is { Kind: PlannedKind.Stem, Group: "Long hall" });
        Assert.InRange(report.Stems!.WorstDb, double.NegativeInfinity, FloatDb);
        Assert.DoesNotContain(plan.Gaps.All, g => g.Of == "Celesta");
        Assert.Contains(made.Plan.Gaps.All, g => g.Of == "Celesta");
    }

    [Fact]
    public void A_stem_of_a_bus_takes_the_place_of_its_tracks_and_their_sends()
    {
        var loaded = Brought().Add(made.Plan.Files.Single(f => f is { Kind: PlannedKind.Stem, Group: "Strings" }), TrackKind.Stem, "strings").Loaded();
        var plan = made.Of(loaded);
        var (zip, report) = Proved(plan, loaded);
        Assert.InRange(Difference(made.Package, Guide(made.Plan), zip, Guide(plan)), double.NegativeInfinity, FloatDb);
        Assert.Equal(made.Plan.Files.Count(f => f.Kind == PlannedKind.Stem), plan.Files.Count(f => f.Kind == PlannedKind.Stem));
        Assert.InRange(report.Stems!.WorstDb, double.NegativeInfinity, FloatDb);

        // What goes by itself is what it was.
        Assert.Equal(double.NegativeInfinity, Difference(made.Package, Of(made.Plan, "cello"), zip, Of(plan, "cello")));
    }

    [Fact]
    public void A_mix_that_came_along_is_the_guide_to_the_bit_and_what_the_mix_leaves_of_it_is_said()
    {
        var loaded = Brought().Add(Guide(made.Plan), TrackKind.GuideMix).Add(Of(made.Plan, "cello"), TrackKind.Click).Loaded();
        var plan = made.Of(loaded);
        var (zip, report) = Proved(plan, loaded);
        Assert.Equal(double.NegativeInfinity, Difference(made.Package, Guide(made.Plan), zip, Guide(plan)));
        var row = report.Rows.Single(r => r is { Subject: "Guide mix", What: "less the mix made here" });
        Assert.Equal("stated", row.Difference);
        Assert.True(row.Passed);
        Assert.InRange(report.Guide!.WorstDb, double.NegativeInfinity, report.Guide.BoundDb);

        // A guide that is a second late leaves nearly everything.
        var late = loaded with { Session = loaded.Session with { Tracks = [.. loaded.Session.Tracks.Select(t => t.Kind == TrackKind.GuideMix ? t with { Lanes = [new Lane("file", [t.Lanes[0].Clips[0] with { Start = t.Lanes[0].Clips[0].Start + 48_000 }])] } : t)] } };
        var (_, other) = Proved(made.Of(late), late);
        Assert.NotEqual(row.Found, other.Rows.Single(r => r is { Subject: "Guide mix", What: "less the mix made here" }).Found);
        Assert.InRange(other.Stems!.WorstDb, double.NegativeInfinity, FloatDb);
        Assert.InRange(other.Guide!.WorstDb, -40, 20);
    }

    [Fact]
    public void The_proof_tells_a_print_that_was_taken_for_another_tracks()
    {
        var right = Brought().Add(Of(made.Plan, "celesta"), TrackKind.Print, "celesta").Loaded();
        var wrong = Brought().Add(Of(made.Plan, "celesta"), TrackKind.Print, "harp").Loaded();
        var report = made.Demo.Prove(made.Demo.Build(made.Of(right), right), made.Of(wrong), wrong);
        Assert.False(report.Passed);
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject == "17_Harp");
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject == "16_Celesta");
    }

    [Fact]
    public void The_carry_plan_says_printed_of_everything_that_a_print_brings()
    {
        var loaded = Brought().Add(Of(made.Plan, "celesta"), TrackKind.Print, "celesta").Loaded();
        var effects = loaded with { Session = loaded.Session with { Tracks = [.. loaded.Session.Tracks.Select(t => t.Id == "celesta" ? t with { Inserts = [new Insert("amplifier of another house", [])] } : t)] } };
        var rows = CarryPlan.Of(made.Of(effects));
        Assert.Equal(0, rows.LostWithoutAWord);
        var prints = rows.Columns.ToList().IndexOf("prints");
        Assert.Equal(Fate.Printed, rows.Rows.Single(r => r.Kind == "Effects").Objects.Single(o => o.Name == "amplifier of another house on Celesta").Fates[prints]);
        Assert.Equal(Fate.Printed, Assert.Single(rows.Rows.Single(r => r.Kind == "Prints, mixes that came along").Objects).Fates[prints]);
        Assert.DoesNotContain(made.Of(effects).Gaps.All, g => g.Of.Contains("amplifier", StringComparison.Ordinal));
    }

    [Fact]
    public void What_plays_in_nothing_is_not_counted_as_printed()
    {
        var loaded = Brought().Add(Of(made.Plan, "cello"), TrackKind.Click).Add(Guide(made.Plan), TrackKind.GuideMix).Loaded();
        var all = made.Of(loaded);
        var none = DeliveryPlan.Make(all.Session, all.Preparation with { Mix = all.Preparation.Mix with { Guide = false, Stems = true } }, new Dictionary<string, MediaSound>());
        foreach (var (plan, column, guide) in new[] { (all, "guide mix", Fate.Printed), (none, "stems", Fate.None) })
        {
            var rows = CarryPlan.Of(plan);
            var mix = rows.Columns.ToList().IndexOf(column);
            Assert.Equal([Fate.None, guide], rows.Rows.Single(r => r.Kind == "Prints, mixes that came along").Objects.Select(o => o.Fates[mix]));
            Assert.Equal([Fate.None, guide], rows.Rows.Single(r => r.Kind == "Clip lengths").Objects.Where(o => o.Name.StartsWith("brought", StringComparison.Ordinal)).Select(o => o.Fates[mix]));
            Assert.Equal(0, rows.LostWithoutAWord);
        }
    }

    [Fact]
    public void What_nobody_chose_is_offered_anew_when_a_print_comes_and_goes()
    {
        var loaded = Brought().Add(Of(made.Plan, "celesta"), TrackKind.Print, "celesta").Add(Of(made.Plan, "long-hall"), TrackKind.Print, "long-hall").Add(Guide(made.Plan), TrackKind.GuideMix).Loaded();
        var before = Preparation.Default(made.Demo.Loaded.Session, Formats.Registry.SessionFormats.Usual);
        var after = before.For(loaded.Session, made.Demo.Loaded.Session);
        Assert.Equal((Treatment.NotesAndPrint, Treatment.PrintThrough, true), (Of(after, "celesta"), Of(after, "long-hall"), after.Mix.Guide));
        var back = after.For(made.Demo.Loaded.Session, loaded.Session);
        Assert.Equal((Treatment.Notes, Treatment.HoldBack), (Of(back, "celesta"), Of(back, "long-hall")));

        // What was chosen stays.
        var chosen = before with { Tracks = [.. before.Tracks.Select(c => c.TrackId == "celesta" ? c with { Treatment = Treatment.HoldBack } : c)] };
        Assert.Equal(Treatment.HoldBack, Of(chosen.For(loaded.Session, made.Demo.Loaded.Session), "celesta"));
    }

    [Fact]
    public void A_print_is_held_to_what_is_made_here_and_its_delay_level_and_polarity_are_measured()
    {
        RoleMeasure Measured(PlannedFile file, RoleKind kind, params string[] of)
        {
            var loaded = Brought().Add(file, RoleJoin.KindOf(kind), of).Loaded();
            var track = loaded.Session.Tracks[^1];
            track = track with { Lanes = [new Lane("file", [track.Lanes[0].Clips[0] with { Start = track.Lanes[0].Clips[0].Start + 1_312, GainDb = 2.1 }])] };
            var session = loaded.Session with { Tracks = [.. loaded.Session.Tracks.SkipLast(1), track] };
            return new RoleMeasures(session, loaded.Media, CancellationToken.None).Of(track, new ItemRole(kind, [.. of.Select(o => new RoleTarget(o, o))]));
        }

        var right = new[]
        {
            Measured(Of(made.Plan, "piano"), RoleKind.Print, "piano"), Measured(Of(made.Plan, "long-hall"), RoleKind.Print, "long-hall"),
            Measured(made.Plan.Files.Single(f => f is { Kind: PlannedKind.Stem, Group: "Strings" }), RoleKind.Stem, "strings"),
        };
        Assert.All(right, m =>
        {
            Assert.Equal(1_312, m.Late);
            Assert.EndsWith("1 312 samples later than here, level +2.1 dB", m.Words.Replace('\u202f', ' '), StringComparison.Ordinal);
        });

        // The mix goes before the master's effects in this package, and through them here.
        Assert.Equal(1_312, Measured(Guide(made.Plan), RoleKind.GuideMix).Late);

        // Another's print, and one of an instrument that only a stand-in plays here.
        Assert.Null(Measured(Of(made.Plan, "double-bass"), RoleKind.Print, "timpani").Late);
        Assert.Null(Measured(Of(made.Plan, "celesta"), RoleKind.Print, "celesta").Late);
    }

    [Fact]
    public void What_a_file_is_is_heard_whatever_it_is_called()
    {
        var brought = Brought();
        var stems = made.Plan.Files.Where(f => f.Kind == PlannedKind.Stem).ToList();
        IntakeItem[] files = [.. new[] { Of(made.Plan, "narrator"), Of(made.Plan, "long-hall"), stems.Single(f => f.Group == "Strings"), Guide(made.Plan) }.Select(brought.AddItem)];
        var loaded = brought.Loaded();
        var heard = new RoleEars(loaded.Session, files, loaded.Media, CancellationToken.None).Hear();
        Assert.Equal([(RoleKind.Print, "narrator"), (RoleKind.Print, "long-hall"), (RoleKind.Stem, "strings"), (RoleKind.GuideMix, null)], files.Select(f => (heard[f.Id].Kind, heard[f.Id].Of?.Id)));
        Assert.All(heard.Values, h => Assert.InRange(h.Correlation, 0.9, 1));

        // At a rate at which no stand-in sounds nothing is held to a mix with notes, and nothing breaks.
        var fast = loaded.Session with { Rate = SampleRate.FromHz(192_000) };
        Assert.DoesNotContain(new RoleEars(fast, files, loaded.Media, CancellationToken.None).Hear().Values, h => h.Kind == RoleKind.GuideMix);

        // Decided on, or called a click: nobody asks.
        Assert.Empty(new RoleEars(loaded.Session, [files[0] with { Role = new ItemRole(RoleKind.Track, []) }, files[1] with { Name = "click.wav" }], loaded.Media, CancellationToken.None).Hear());

        // Nothing but files: one of them is the sum of the others.
        brought = Brought();
        files = [.. stems.Select(brought.AddItem), brought.AddItem(Guide(made.Plan))];
        loaded = brought.Loaded();
        var alone = loaded with { Session = loaded.Session with { Tracks = [.. loaded.Session.Tracks.Where(t => files.Any(f => RoleJoin.TrackOf(f) == t.Id))] } };
        heard = new RoleEars(alone.Session, files, alone.Media, CancellationToken.None).Hear();
        Assert.Equal((files[^1].Id, RoleKind.GuideMix), (heard.MaxBy(h => h.Value.Correlation).Key, heard[files[^1].Id].Kind));
    }

    [Fact]
    public void A_file_that_lost_its_place_is_found_in_the_guide_or_in_the_tracks_that_have_theirs()
    {
        const int From = 36_000;
        var voice = Of(made.Plan, "narrator");
        foreach (var withGuide in new[] { true, false })
        {
            var brought = Brought();
            var cut = brought.AddCut(voice, From, 200_000);
            var loaded = (withGuide ? brought.Add(voice, TrackKind.GuideMix) : brought).Loaded();
            var lost = LostFiles.Of(loaded.Session, [cut, cut with { Id = "stamped", Sound = cut.Sound! with { TimeReference = 5 } }, cut with { Id = "placed", Placement = new Placement(PlacementRule.SessionStart) }]);
            Assert.Equal([cut.Id], lost.Items.Select(i => i.Id));
            Assert.Contains(withGuide ? "Narrator" : "the mix of", lost.Where, StringComparison.Ordinal);
            var found = Assert.Single(lost.Find(loaded.Media, CancellationToken.None));
            Assert.Equal((cut.Id, made.Plan.Range.Start + From), (found.Item, found.Place!.Value.Nearest));

            // Under all the others it is too low to be sure.
            Assert.Equal(withGuide, found.Place.Value.IsSure);
        }

        // Nothing that it could lie in: it is not asked for.
        Assert.Null(LostFiles.Of(new Session { Name = "empty" }, []).Where);
    }

    [Fact]
    public void A_click_is_held_to_the_grid_for_its_offset_and_drift_and_music_is_no_click()
    {
        var session = new Session { Name = "Click", Tempo = Core.Time.TempoMap.Constant(120) };
        RoleMeasure Of(Func<int, double> at, int count = 40)
        {
            var samples = new double[48_000 * 25];
            for (var i = 0; i < count; i++)
            {
                samples[(int)Math.Round(at(i))] = 0.8;
            }

            return ClickMeasure.Of(session, new Planar(samples), CancellationToken.None);
        }

        Assert.Equal(("40 onsets, off by 0 samples", 0L), (Of(i => i * 24_000).Words, Of(i => i * 24_000).Late!.Value));
        Assert.Equal(("40 onsets, off by 1 312 samples", 1_312L), (Of(i => (i * 24_000) + 1_312).Words.Replace('\u202f', ' '), Of(i => (i * 24_000) + 1_312).Late!.Value));
        Assert.Contains("drifting 240.0 samples a minute", Of(i => i * 24_002).Words, StringComparison.Ordinal);
        Assert.Null(Of(i => 6_000 + (i * 26_123) + (i * i * 17)).Late);
        Assert.Contains("no click, or one of another grid", Of(i => 6_000 + (i * 26_123) + (i * i * 17)).Words, StringComparison.Ordinal);
        Assert.Equal(("silent", null), (Of(i => 0, 0).Words, Of(i => 0, 0).Late));
        Assert.Contains("too few", Of(i => 0, 1).Words, StringComparison.Ordinal);
    }

    private sealed class Planar(double[] samples) : Audio.Sources.ISampleSource
    {
        public int Channels => 1;

        public long Length => samples.Length;

        public Core.Time.SampleRate Rate => Core.Time.SampleRate.Hz48000;

        public void Read(long start, int count, double[][] into) => samples.AsSpan((int)start, count).CopyTo(into[0]);

        public void Dispose()
        {
        }
    }

    private BroughtSounds Brought() => new(made.Demo, made.Package, made.Plan);

    private static Treatment Of(Preparation preparation, string track) => preparation.Tracks.Single(c => c.TrackId == track).Treatment;

    private static PlannedFile Of(DeliveryPlan plan, string track) => plan.Files.Single(f => f.Kind == PlannedKind.FromZero && f.TrackId == track);

    private static PlannedFile Guide(DeliveryPlan plan) => plan.Files.Single(f => f.Kind == PlannedKind.GuideMix);

    private (string Zip, ProofReport Report) Proved(DeliveryPlan plan, LoadedSession loaded)
    {
        var zip = made.Demo.Build(plan, loaded);
        var report = made.Demo.Prove(zip, plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        return (zip, report);
    }

    /// <summary>The largest difference of two float files of equal length, in dBFS.</summary>
    private static double Difference(string package, PlannedFile file, string other, PlannedFile with)
    {
        var (a, b) = (SamplesOf(PackageTamper.Read(package, file.Path)), SamplesOf(PackageTamper.Read(other, with.Path)));
        Assert.Equal(a.Length, b.Length);
        Assert.Contains(a, s => Math.Abs(s) > 0.01);
        return Decibels.FromRatio(a.Zip(b).Max(p => Math.Abs((double)p.First - p.Second)));
    }

    private static float[] SamplesOf(byte[] wave)
    {
        var at = wave.AsSpan().IndexOf("data"u8);
        var bytes = wave.AsSpan(at + 8, BitConverter.ToInt32(wave, at + 4));
        return System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(bytes).ToArray();
    }
}
