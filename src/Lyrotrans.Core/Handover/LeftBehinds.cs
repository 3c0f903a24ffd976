using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Handover;

/// <summary>What of a session does not arrive as it is: converted, printed, or not at all. The session document has a record of everything that goes, and counts for nothing here.</summary>
public static class LeftBehinds
{
    /// <summary>What does not arrive at all comes first, what was printed last.</summary>
    public static ValueArray<LeftBehind> Of(DeliveryPlan plan)
    {
        var carry = CarryPlan.Of(plan);
        var columns = Enumerable.Range(0, carry.Outputs.Count).Where(c => carry.Outputs[c].Kind != OutputKind.Record).ToList();
        var tracks = plan.Session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        var left = carry.Rows.SelectMany(row => row.Objects.GroupBy(o => o.Best(columns)).Where(g => g.Key != Fate.Carried)
            .Select(g => (row.Kind, Fate: g.Key, Count: g.Count(), Names: Names(row.Kind, g, tracks), Instead: Instead(row.Kind, g.Key, plan)))).ToList();

        // A clip that lies nowhere has no length there either: one word is enough for both.
        left.RemoveAll(l => l.Kind == CarryPlan.ClipLengths && left.Exists(p => p.Kind == CarryPlan.ClipPositions && p.Fate == l.Fate && p.Count == l.Count));
        return
        [
            .. left.GroupBy(l => (l.Fate, l.Instead)).OrderBy(g => g.Key.Fate switch { Fate.HeldBack => 0, Fate.Converted => 1, _ => 2 })
                .Select(g => new LeftBehind([.. g.Select(l => (l.Kind, l.Count))], g.Key.Fate, g.Count() == 1 && g.First().Kind != CarryPlan.Tempo ? Phrases.First(g.First().Names) : string.Empty, g.Key.Instead)),
        ];
    }

    // A note is known by its track, everything else by its name.
    private static List<string> Names(string kind, IEnumerable<CarryObject> objects, Dictionary<string, string> tracks) =>
        [.. objects.Select(o => kind is CarryPlan.Notes or CarryPlan.Controllers && o.TrackId is { } id ? tracks.GetValueOrDefault(id, o.Name) : o.Name).Distinct()];

    private static string Instead(string kind, Fate fate, DeliveryPlan plan) => (kind, fate) switch
    {
        (CarryPlan.WithoutSound, _) => "nothing stands for it; ask for the sound",
        (CarryPlan.Effects or CarryPlan.Sends or CarryPlan.Volume or CarryPlan.Pan, Fate.HeldBack) => $"set it up by {plan.Root}_settings.csv",
        (CarryPlan.Buses, Fate.HeldBack) => "make them anew where they are wanted",
        (CarryPlan.Tempo, Fate.Converted) => "steps in whole microseconds a quarter, in the MIDI file",
        (CarryPlan.Markers, Fate.Converted) => "on the nearest tick in the MIDI file; a span is its start and its end",
        (CarryPlan.Picture, Fate.Converted) => "coded anew",
        (_, Fate.Converted) => "the same thing in another form",
        (_, Fate.Printed) => "it is in the sound",
        _ => "held back; ask for it",
    };
}
