using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>The session with its effects oversampled as a preparation says: all alike, or single ones. Documents of the session keep what it says itself.</summary>
public static class EffectOversampling
{
    /// <summary>How many times effects can be oversampled.</summary>
    public static IReadOnlyList<long> Factors { get; } = [1, 2, 4];

    /// <summary>Whether an effect can be oversampled.</summary>
    public static bool Has(Insert insert) => EffectCatalogue.Find(insert.Effect) is { } kind && kind.Parameters.Any(p => p.Name == EffectKind.Oversampling);

    /// <summary>How many times an effect is oversampled, as the session says; null where it cannot be.</summary>
    public static int? Of(Insert insert) => Has(insert) ? EffectCatalogue.Settings(insert with { Bypassed = false })!.Oversampling : null;

    /// <summary>A session whose effects are oversampled as was chosen.</summary>
    public static Session Of(Session session, Preparation preparation)
    {
        var rows = preparation.Tracks.Where(c => c.Oversampled.Count > 0).ToDictionary(c => c.TrackId, c => c.Oversampled.ToDictionary(o => o.Effect, o => o.Times));
        return preparation.Oversampling is null && rows.Count == 0 ? session
            : session with { Tracks = [.. session.Tracks.Select(t => Of(t, (int?)preparation.Oversampling, rows.GetValueOrDefault(t.Id)))] };
    }

    private static Track Of(Track track, int? all, Dictionary<string, int>? single)
    {
        if (!track.Inserts.Any(Has))
        {
            return track;
        }

        var names = PrintEffects.NamesOf(track);
        return track with { Inserts = [.. track.Inserts.Select((insert, i) => Has(insert) && (single is not null && single.TryGetValue(names[i], out var own) ? own : all) is { } times ? With(insert, times) : insert)] };
    }

    private static Insert With(Insert insert, int times) =>
        insert with { Parameters = [.. insert.Parameters.Where(p => p.Name != EffectKind.Oversampling), new Parameter(EffectKind.Oversampling, times)] };
}
