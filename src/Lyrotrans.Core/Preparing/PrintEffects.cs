using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>Which effects a print goes through.</summary>
public static class PrintEffects
{
    /// <summary>What a track's effects are called, in their order; of several of one name the second and later have a number.</summary>
    public static IReadOnlyList<string> NamesOf(Track track)
    {
        var seen = new Dictionary<string, int>();
        return [.. track.Inserts.Select(i => (seen[i.Effect] = seen.GetValueOrDefault(i.Effect) + 1) is > 1 and var number ? FormattableString.Invariant($"{i.Effect} {number}") : i.Effect)];
    }

    /// <summary>A track with the effects of its print only; it itself where it goes through all.</summary>
    public static Track Kept(Track track, TrackChoice choice)
    {
        if (choice.Without.Count == 0)
        {
            return track;
        }

        var names = NamesOf(track);
        return track with { Inserts = track.Inserts.Select((insert, i) => choice.Without.Contains(names[i]) ? insert with { Bypassed = true } : insert).ToValueArray() };
    }
}
