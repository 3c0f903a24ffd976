using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What sounds in guide mix and returns, apart from what goes: built, proved, and compared with each other.</summary>
public class MixSoundingTests(DemoSession demo)
{
    private const string Hall = "long-hall";
    private const string Voice = "horn-close";
    private static readonly string[] s_standIns = ["instrument Celesta", "instrument Harp", "instrument Bass drum"];

    private DeliveryPlan Plan(MixSounding sounding, MixChoices mix, string[] going, Treatment treatment) => demo.Plan(p => (p with
    {
        Encoding = SampleEncoding.Float32,
        ChosenEnd = 400_000,
        Mix = mix with { Sounding = sounding },
        Tracks = [.. p.Tracks.Select(c => c with { Treatment = going.Contains(c.TrackId) ? treatment : Treatment.HoldBack, Marked = c.TrackId == Voice })],
    }).Accepting(s_standIns));

    private float[] Built(DeliveryPlan plan, PlannedKind kind)
    {
        var zip = demo.Build(plan);
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        var bytes = PackageTamper.Read(zip, plan.Files.Single(f => f.Kind == kind).Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), "w.wav").Layout;
        return System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(bytes.AsSpan((int)layout.DataOffset, (int)layout.DataBytes)).ToArray();
    }

    private float[] HallOf(MixSounding sounding) => Built(Plan(sounding, new MixChoices(), [Hall], Treatment.PrintThrough), PlannedKind.FromZero);

    [Fact]
    public void The_guide_of_one_part_is_that_of_the_whole_song()
    {
        var all = demo.Plan(p => (p with { Encoding = SampleEncoding.Float32, ChosenEnd = 400_000, Mix = new MixChoices(Guide: true) }).Accepting(s_standIns));
        var guide = Built(all, PlannedKind.GuideMix);
        Assert.Equal(guide, Built(Plan(MixSounding.AllHere, new MixChoices(Guide: true), ["narrator"], Treatment.PrintDry), PlannedKind.GuideMix));
        Assert.NotEqual(guide, Built(Plan(MixSounding.WhatGoes, new MixChoices(Guide: true), ["narrator"], Treatment.PrintDry), PlannedKind.GuideMix));
    }

    [Fact]
    public void A_return_that_goes_alone_has_the_sound_of_what_feeds_it_and_shares_of_it_sum()
    {
        var whole = HallOf(MixSounding.AllHere);
        Assert.True(whole.Max(Math.Abs) > 0.01);
        Assert.All(HallOf(MixSounding.WhatGoes), s => Assert.Equal(0, s));
        var (share, rest) = (HallOf(MixSounding.OnlyMarked), HallOf(MixSounding.AllButMarked));
        Assert.True(share.Max(Math.Abs) > 0.001 && rest.Max(Math.Abs) > 0.001);
        Assert.True(whole.Zip(share.Zip(rest, (a, b) => a + b), (a, b) => Math.Abs(a - b)).Max() < 1e-6);
    }

    [Theory]
    [InlineData(Treatment.PrintDry)]
    [InlineData(Treatment.KeepClips)]
    public void Another_take_sounds_and_the_others_go_beneath_and_all_of_it_is_proved(Treatment treatment)
    {
        DeliveryPlan Plan(string? take, bool spares) => demo.Plan(p => p with
        {
            Encoding = SampleEncoding.Float32,
            ChosenEnd = 400_000,
            Tracks = [.. p.Tracks.Select(c => c.TrackId == "narrator" ? c with { Treatment = treatment, Take = take, Spares = spares } : c with { Treatment = Treatment.HoldBack })],
        });
        var lanes = demo.Loaded.Session.Tracks.Single(t => t.Id == "narrator").Lanes;
        var plan = Plan(lanes[1].Name, spares: true);
        var zip = demo.Build(plan);
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Equal(lanes.Count(l => l.Clips.Count > 0) - 1, TakeTracks.SparesIn(plan.Preparation).Count);

        // Of other takes than were meant.
        Assert.False(demo.Prove(zip, Plan(null, spares: true)).Passed);
        Assert.False(demo.Prove(demo.Build(Plan(lanes[1].Name, spares: false)), plan).Passed);
        if (treatment == Treatment.PrintDry)
        {
            // The one that sounds is the file that it would be as a spare one, and the other way round.
            byte[] File(DeliveryPlan of, string package, Func<Lyrotrans.Core.Sessions.Track, bool> which) => PackageTamper.Read(package, of.Files.Single(f => f.TrackId == of.Session.Tracks.Single(which).Id && f.Kind == PlannedKind.FromZero).Path)[^100_000..];
            var usual = Plan(null, spares: true);
            Assert.Equal(File(plan, zip, t => t.Id == "narrator"), File(usual, demo.Build(usual), t => t.Name.EndsWith(lanes[1].Name, StringComparison.Ordinal)));
        }
    }

    [Fact]
    public void Stems_are_held_to_the_mix_of_what_goes_where_the_guide_has_more()
    {
        var plan = Plan(MixSounding.AllHere, new MixChoices(Stems: true, Guide: true), ["narrator", "cello"], Treatment.PrintDry);
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Equal(2, plan.Files.Count(f => f.Kind == PlannedKind.Stem));
        Assert.True(report.Stems!.WorstDb < -120, $"{report.Stems.WorstDb}");
    }

    [Fact]
    public void A_guide_that_lacks_a_track_that_should_only_sound_in_it_fails()
    {
        var meant = Plan(MixSounding.AllHere, new MixChoices(Guide: true), ["narrator"], Treatment.PrintDry);
        var less = Plan(MixSounding.AllButMarked, new MixChoices(Guide: true), ["narrator"], Treatment.PrintDry);
        var report = demo.Prove(demo.Build(less), meant);
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject.Contains("guide", StringComparison.OrdinalIgnoreCase));
    }
}
