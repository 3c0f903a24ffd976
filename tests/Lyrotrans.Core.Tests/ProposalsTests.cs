using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proposing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Tests;

/// <summary>What is proposed beside what was chosen, and which buses and returns a subset needs.</summary>
public sealed class ProposalsTests
{
    private static Track Voice(string id, string? output = null, params string[] sends) => new()
    {
        Id = id,
        Name = id,
        Output = output,
        Sends = [.. sends.Select(s => new Send(s, -6))],
        Lanes = [new Lane("l", [TestSessions.Clip(id, 0, 10_000)])],
    };

    private static readonly Session s_session = TestSessions.Of(
        Voice("cello", "strings", "hall"), Voice("bass", "strings", "hall"), Voice("drum", null, "wall"),
        new Track { Id = "strings", Name = "strings", Kind = TrackKind.Bus, Channels = 2 },
        new Track { Id = "hall", Name = "hall", Kind = TrackKind.Return, Channels = 2, Inserts = [new Insert("reverb", [])] },
        new Track { Id = "wall", Name = "wall", Kind = TrackKind.Return, Channels = 2, Output = "deep", Inserts = [new Insert("delay", [])] },
        new Track { Id = "deep", Name = "deep", Kind = TrackKind.Bus, Channels = 2 },
        new Track { Id = "unused", Name = "unused", Kind = TrackKind.Bus, Channels = 2, Output = "strings" },
        new Track { Id = "master", Name = "master", Kind = TrackKind.Master, Channels = 2 });

    private static Preparation Usual(Session session) => Preparation.Default(session, TestFormats.Any) with { Mix = new MixChoices(Sounding: MixSounding.AllHere) };

    private static Preparation Holding(Preparation preparation, params string[] tracks) =>
        preparation with { Tracks = [.. preparation.Tracks.Select(c => tracks.Contains(c.TrackId) ? c with { Treatment = Treatment.HoldBack } : c)] };

    private static IReadOnlyList<string> Words(Session session, Preparation? preparation = null, bool click = true) => [.. Proposals.Of(session, preparation ?? Usual(session), click).Select(p => p.Words)];

    [Fact]
    public void Each_has_a_reason_and_what_is_taken_is_proposed_no_more()
    {
        Assert.Equal(["guide mix", "click", "hall as a wet print", "wall as a wet print"], Words(s_session));
        var all = Proposals.Of(s_session, Usual(s_session), true);
        Assert.All(all, p => Assert.EndsWith(".", p.Reason, StringComparison.Ordinal));
        Assert.Contains("cello and bass that feed it go dry", all[2].Reason, StringComparison.Ordinal);
        var taken = all.Aggregate(Usual(s_session), (p, one) => one.Apply(p));
        Assert.Empty(Proposals.Of(s_session, taken, true));
        Assert.True(taken.Mix.Guide && taken.Click.Print);
        Assert.Equal(["cello", "bass", "drum", "hall", "wall"], taken.Tracks.Where(c => c.Treatment.IsPrint()).Select(c => c.TrackId));
    }

    [Fact]
    public void A_sheet_that_wants_no_click_is_heard_and_so_is_a_click_that_came() => Assert.Multiple(
        () => Assert.DoesNotContain("click", Words(s_session, click: false)),
        () => Assert.DoesNotContain("click", Words(s_session with { Tracks = [.. s_session.Tracks, Voice("tick") with { Kind = TrackKind.Click }] })));

    [Fact]
    public void A_guide_mix_says_what_it_lacks_and_one_that_came_lacks_nothing()
    {
        var lacking = s_session with { Tracks = [.. s_session.Tracks.Select(t => t.Id == "drum" ? t with { Inserts = [new Insert("valve of another house", [])] } : t)] };
        Assert.Contains("guide mix without valve of another house on drum", Words(lacking));

        // What is not in the mix is not lacking in it.
        var without = Usual(lacking) with { Mix = new MixChoices(Sounding: MixSounding.AllButMarked), Tracks = [.. Usual(lacking).Tracks.Select(c => c with { Marked = c.TrackId == "drum" })] };
        Assert.Contains("guide mix", Words(lacking, without));
        var came = lacking with { Tracks = [.. lacking.Tracks, Voice("rough") with { Kind = TrackKind.GuideMix }] };
        Assert.Contains(Proposals.Of(came, Usual(came), true), p => p is { Words: "guide mix", Reason: var reason } && reason.StartsWith("rough came along", StringComparison.Ordinal));
        Assert.DoesNotContain(Words(s_session with { Tracks = [.. s_session.Tracks.Where(t => !t.Kind.IsSource())] }), w => w.StartsWith("guide", StringComparison.Ordinal));
    }

    [Fact]
    public void A_return_is_proposed_only_where_its_feeders_go_dry_and_it_can_sound()
    {
        Assert.DoesNotContain("wall as a wet print", Words(s_session, Holding(Usual(s_session), "drum")));
        var other = s_session with { Tracks = [.. s_session.Tracks.Select(t => t.Id == "hall" ? t with { Inserts = [new Insert("plate of another house", [])] } : t)] };
        Assert.DoesNotContain("hall as a wet print", Words(other));
        var mixed = Usual(s_session) with { Tracks = [.. Usual(s_session).Tracks.Select(c => c.TrackId == "drum" ? c with { Treatment = Treatment.PrintMixed } : c)] };
        Assert.DoesNotContain("wall as a wet print", Words(s_session, mixed));
    }

    [Fact]
    public void A_subset_goes_with_the_buses_and_returns_that_it_needs_and_no_others()
    {
        var preparation = Holding(Usual(s_session), "drum");
        Assert.Equal(["strings", "hall", "master"], NeededPaths.Of(s_session, preparation).Select(t => t.Id));
        Assert.Equal(["deep", "wall"], NeededPaths.Unneeded(s_session, preparation).Order(StringComparer.Ordinal));
        var plan = DeliveryPlan.Make(s_session, preparation, new Dictionary<string, MediaSound>());
        Assert.Equal(["cello", "bass", "strings", "hall", "unused", "master"], plan.DeliveredSession().Tracks.Select(t => t.Id));
        Assert.Empty(SessionRules.Check(plan.DeliveredSession()));
        var buses = CarryPlan.Of(plan).Rows.Single(r => r.Kind == "Buses, returns").Objects.ToDictionary(o => o.Name, o => o.Fates[^1]);
        Assert.Equal([("strings", Fate.Carried), ("hall", Fate.Carried), ("wall", Fate.HeldBack), ("deep", Fate.HeldBack), ("unused", Fate.Carried), ("master", Fate.Carried)], buses.Select(b => (b.Key, b.Value)));

        // Printed by itself it goes; and what stays names nothing that does not.
        var printed = preparation with { Tracks = [.. preparation.Tracks.Select(c => c.TrackId == "wall" ? c with { Treatment = Treatment.PrintThrough } : c)] };
        Assert.Empty(NeededPaths.Unneeded(s_session, printed));
        Assert.Empty(NeededPaths.Unneeded(s_session, Usual(s_session)));
    }
}
