using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Following;

/// <summary>
/// Names as they went before: whoever has a delivery finds every track under the name and number that it has there, and the numbers of what is new go on where they ended. Spare takes have no row of their own to type
/// a name into: they are called after their track, without a number.
/// </summary>
public static class KeptNames
{
    /// <summary>The preparation with the names of before typed in; null where all that went is called as it was already.</summary>
    /// <param name="before">What was delivered.</param>
    /// <param name="now">What would be.</param>
    /// <param name="session">The session that it is made of.</param>
    /// <param name="preparation">How that is prepared.</param>
    public static Preparation? Of(DeliveryPlan before, DeliveryPlan now, Session session, Preparation preparation)
    {
        var (then, names, click) = (NamesOf(before), NamesOf(now), ClickOf(before));
        var moved = names.Any(n => then.TryGetValue(n.Key, out var was) ? was != n.Value : then.Values.Contains(n.Value, StringComparer.OrdinalIgnoreCase));
        if (!moved && (click is null || ClickOf(now) is not { } called || called == click))
        {
            return null;
        }

        var kept = Kept(then, names, now, then.Count + (click is null ? 0 : 1));
        return preparation with
        {
            NamePattern = NamePattern.Track,
            Tracks = preparation.For(session).Tracks.Select(c => Typed(c, kept)).ToValueArray(),
            Click = preparation.Click with { FileName = click ?? preparation.Click.FileName },
        };
    }

    private static Dictionary<string, string> Kept(IReadOnlyDictionary<string, string> then, IReadOnlyDictionary<string, string> names, DeliveryPlan now, int number)
    {
        var (cleaned, rows) = (DeliveredNames.Cleaned(now.Session, now.Preparation), now.Preparation.Tracks.ToDictionary(c => c.TrackId));
        var kept = new Dictionary<string, string>();
        foreach (var id in names.Keys)
        {
            var fields = DeliveredNames.Fields(now.Session, now.Preparation, rows[id], then.ContainsKey(id) ? 0 : ++number, rows[id].Name ?? cleaned[id]);
            kept[id] = then.TryGetValue(id, out var was) ? was : LegalName.From(NamePattern.Fill(now.Preparation.NamePattern, fields));
        }

        return kept;
    }

    private static TrackChoice Typed(TrackChoice choice, Dictionary<string, string> kept) => choice with
    {
        Name = kept.GetValueOrDefault(choice.TrackId) ?? choice.Name,
        Beneath = [.. choice.Beneath.Select((b, i) => kept.TryGetValue(BeneathTracks.IdOf(choice.TrackId, i), out var name) ? b with { Name = name } : b)],
    };

    private static IReadOnlyDictionary<string, string> NamesOf(DeliveryPlan plan) => DeliveredNames.Of(plan.Session, plan.Preparation);

    private static string? ClickOf(DeliveryPlan plan) => plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.Click) is { } click ? Path.GetFileNameWithoutExtension(click.Path) : null;
}
