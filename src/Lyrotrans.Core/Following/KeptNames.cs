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
        var typed = AreTyped(then, now);
        var moved = names.Any(n => then.TryGetValue(n.Key, out var was) ? was != n.Value : then.Values.Contains(n.Value, StringComparer.OrdinalIgnoreCase) || (typed && NamePattern.NumberOf(n.Value) == 0));
        if (!moved && (click is null || ClickOf(now) is not { } called || called == click))
        {
            return null;
        }

        var last = typed ? names.Concat(then).Select(n => n.Value).Append(click ?? string.Empty).Max(NamePattern.NumberOf) : then.Count + (click is null ? 0 : 1);
        var kept = Kept(then, names, now, typed, last);
        return preparation with
        {
            NamePattern = NamePattern.Track,
            Tracks = preparation.For(session).Tracks.Select(c => BeneathTracks.Named(c, kept)).ToValueArray(),
            Click = preparation.Click with { FileName = click ?? preparation.Click.FileName },
        };
    }

    // Since an earlier follow-up the numbers stand in the names, and the pattern has none: what is new is numbered on all the same.
    private static bool AreTyped(IReadOnlyDictionary<string, string> then, DeliveryPlan now) => now.Preparation.NamePattern == NamePattern.Track && then.Count > 0
        && now.Preparation.Tracks.Where(c => then.ContainsKey(c.TrackId)).All(c => c.Name == then[c.TrackId] && NamePattern.NumberOf(c.Name) > 0);

    private static Dictionary<string, string> Kept(IReadOnlyDictionary<string, string> then, IReadOnlyDictionary<string, string> names, DeliveryPlan now, bool typed, int number)
    {
        var pattern = typed ? NamePattern.Usual : now.Preparation.NamePattern;
        var (cleaned, rows) = (DeliveredNames.Cleaned(now.Session, now.Preparation), now.Preparation.Tracks.ToDictionary(c => c.TrackId));
        var kept = new Dictionary<string, string>();
        foreach (var (id, name) in names)
        {
            if (then.TryGetValue(id, out var was) || (typed && NamePattern.NumberOf(name) > 0))
            {
                kept[id] = was ?? name;
                continue;
            }

            var fields = DeliveredNames.Fields(now.Session, now.Preparation, rows[id], ++number, rows[id].Name ?? cleaned[id]);
            kept[id] = LegalName.From(NamePattern.Fill(pattern, fields));
        }

        return kept;
    }

    private static IReadOnlyDictionary<string, string> NamesOf(DeliveryPlan plan) => DeliveredNames.Of(plan.Session, plan.Preparation);

    private static string? ClickOf(DeliveryPlan plan) => plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.Click) is { } click ? Path.GetFileNameWithoutExtension(click.Path) : null;
}
