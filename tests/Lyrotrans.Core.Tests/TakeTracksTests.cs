using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Tests;

/// <summary>Which take sounds, and spare takes as tracks beneath.</summary>
public class TakeTracksTests
{
    private static readonly Dictionary<string, MediaSound> s_noSounds = [];

    private static readonly Session s_session = TestSessions.Of(
        TestSessions.Track("Narrator") with
        {
            Lanes = [new Lane("comp", [TestSessions.Clip("c", 0, 1000)]), new Lane("take 1", [TestSessions.Clip("1", 0, 5000)]), new Lane("take 2", [TestSessions.Clip("2", 0, 2000)]), new Lane("empty", [])],
        },
        TestSessions.Track("Cello", TestSessions.Clip("k", 0, 100)));

    private static Preparation Prepared(Func<TrackChoice, TrackChoice> change, Treatment treatment = Treatment.PrintDry)
    {
        var usual = Preparation.Default(s_session, TestFormats.Any) with { Tail = 0 };
        return usual with { Tracks = [.. usual.Tracks.Select(c => c.TrackId == "Narrator" ? change(c with { Treatment = treatment }) : c)] };
    }

    private static DeliveryPlan Plan(Func<TrackChoice, TrackChoice> change, Treatment treatment = Treatment.PrintDry) => DeliveryPlan.Make(s_session, Prepared(change, treatment), s_noSounds);

    [Fact]
    public void The_take_that_is_chosen_sounds()
    {
        Assert.Equal(1000, Plan(c => c).Range.End);
        var plan = Plan(c => c with { Take = "take 2" });
        Assert.Equal("take 2", plan.Session.Tracks[0].Sounding!.Name);
        Assert.Equal(2000, plan.Range.End);
        Assert.Equal("comp", Plan(c => c with { Take = "gone" }).Session.Tracks[0].Sounding!.Name);
    }

    [Fact]
    public void Spare_takes_go_beneath_numbered_after_theirs_and_sound_in_no_mix()
    {
        var plan = Plan(c => c with { Spares = true });
        Assert.Equal(["Narrator", "Narrator 2 take 1", "Narrator 3 take 2", "Cello"], plan.Session.Tracks.Select(t => t.Name));
        Assert.Equal(
            ["01_Narrator.wav", "02_Narrator_2_take_1.wav", "03_Narrator_3_take_2.wav", "04_Cello.wav"],
            plan.Files.Where(f => f.Kind == PlannedKind.FromZero).Select(f => f.Path[(f.Path.LastIndexOf('/') + 1)..]));
        Assert.Equal(5000, plan.Range.End);
        var spares = TakeTracks.SparesIn(plan.Preparation);
        Assert.Equal(2, spares.Count);
        foreach (var sounding in Enum.GetValues<MixSounding>())
        {
            Assert.DoesNotContain(MixTracks.Of(plan.Session, plan.Preparation with { Mix = new MixChoices(Sounding: sounding) }), id => spares.Contains(id));
        }

        Assert.DoesNotContain(StemGroup.AllOf(plan.Session, plan.Preparation), id => spares.Contains(id));
    }

    [Fact]
    public void With_another_take_the_one_that_sounded_is_spare() =>
        Assert.Equal(["Narrator", "Narrator 2 comp", "Narrator 3 take 2", "Cello"], Plan(c => c with { Take = "take 1", Spares = true }).Session.Tracks.Select(t => t.Name));

    [Fact]
    public void What_is_held_back_has_no_spare_takes() => Assert.Equal(2, Plan(c => c with { Spares = true }, Treatment.HoldBack).Session.Tracks.Count);

    [Fact]
    public void A_plan_of_a_plans_own_preparation_is_the_same()
    {
        var plan = Plan(c => c with { Spares = true, Take = "take 1" });
        var again = DeliveryPlan.Make(s_session, plan.Preparation, s_noSounds);
        Assert.Equal((plan.Session, plan.Preparation), (again.Session, again.Preparation));
        Assert.Equal(plan.Files, again.Files);
    }

    [Fact]
    public void What_went_as_a_spare_take_and_came_back_is_a_track_like_any_other()
    {
        var came = Plan(c => c with { Spares = true }).Session;
        var usual = Preparation.Default(came, TestFormats.Any);
        var going = usual with { Tracks = [.. usual.Tracks.Select(c => c with { Treatment = Treatment.PrintDry })], Mix = new MixChoices() };
        Assert.Equal(4, MixTracks.Of(came, going).Count);
        var again = DeliveryPlan.Make(came, going with { Tracks = [.. going.Tracks.Select(c => c with { Spares = c.TrackId == "Narrator" })] }, s_noSounds);
        Assert.Equal(6, again.Files.Count(x => x.Kind == PlannedKind.FromZero));
        Assert.Distinct(again.Session.Tracks.Select(t => t.Id));
        Assert.Distinct(again.Files.Select(x => x.Path));
    }

    [Fact]
    public void The_carry_plan_says_that_they_are_printed()
    {
        Fate[] Of(DeliveryPlan plan) => [.. CarryPlan.Of(plan).Rows.Single(r => r.Kind == "Takes").Objects.Select(o => o.Fates[0])];
        Assert.Equal([Fate.None, Fate.None, Fate.None], Of(Plan(c => c)));
        Assert.Equal([Fate.Printed, Fate.Printed, Fate.None], Of(Plan(c => c with { Spares = true })));
        Assert.Equal(0, CarryPlan.Of(Plan(c => c with { Spares = true })).LostWithoutAWord);
    }
}
