using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Intake;

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
        Assert.Contains(report.Rows, r => !r.Passed && r.What.Contains("of", StringComparison.Ordinal));
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
