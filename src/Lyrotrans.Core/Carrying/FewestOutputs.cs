using System.Numerics;

namespace Lyrotrans.Core.Carrying;

/// <summary>
/// The fewest of some outputs that meet needs, by exact search. Outputs are bits, from 0 in the order of preference; a need is the set of the outputs of which each meets it. Of some outputs
/// a package can have one only, such as files of clips in several formats.
/// </summary>
/// <param name="needs">Sets of outputs with how many objects need just these; a set may come more than once.</param>
/// <param name="count">How many outputs there are, 0 to 64.</param>
/// <param name="oneOf">The outputs of which at most one goes.</param>
/// <param name="chosen">Those that go now: among as few, the set that changes the least is taken, and then the one with the first outputs.</param>
internal sealed class FewestOutputs(IEnumerable<(ulong Outputs, int Objects)> needs, int count, ulong oneOf, ulong chosen)
{
    private readonly Dictionary<ulong, int> _needs = needs.GroupBy(n => n.Outputs).ToDictionary(g => g.Key, g => g.Sum(n => n.Objects));

    /// <summary>The set. What no set can meet is met by none: as much is met as can be.</summary>
    public ulong Find()
    {
        var all = count == 64 ? ulong.MaxValue : (1UL << count) - 1;
        return Each(oneOf & all).Append(0UL).Select(one => Solve(all & ~(oneOf & ~one))).OrderByDescending(Met).Aggregate((a, b) => Met(b) == Met(a) && IsBetter(b, a) ? b : a);
    }

    /// <summary>How many objects a set meets.</summary>
    private long Met(ulong set) => _needs.Sum(n => (n.Key & set) != 0 ? (long)n.Value : 0);

    private ulong Solve(ulong available)
    {
        var met = _needs.Keys.Select(n => n & available).Where(n => n != 0).Distinct().ToList();

        // What meets the narrower of two needs meets the wider one too.
        var narrow = met.Where(n => !met.Exists(m => m != n && (m & n) == m)).ToList();
        for (var most = 0; ; most++)
        {
            if (Search(narrow, 0, 0, most) is { } found)
            {
                return found;
            }
        }
    }

    // Every set with so many outputs is met at once: one branch holds the first output of a need, the next holds the second and not the first, and so on.
    private ulong? Search(List<ulong> needs, ulong taken, ulong left, int most)
    {
        var open = needs.Where(n => (n & taken) == 0).Select(n => n & ~left).ToList();
        if (open.Count == 0)
        {
            return taken;
        }

        if (most == 0 || open.Contains(0))
        {
            return null;
        }

        ulong? best = null;
        foreach (var output in Each(open.MinBy(BitOperations.PopCount)))
        {
            if (Search(needs, taken | output, left, most - 1) is { } found && (best is null || IsBetter(found, best.Value)))
            {
                best = found;
            }

            left |= output;
        }

        return best;
    }

    private bool IsBetter(ulong a, ulong b)
    {
        if (BitOperations.PopCount(a) != BitOperations.PopCount(b))
        {
            return BitOperations.PopCount(a) < BitOperations.PopCount(b);
        }

        var (changesA, changesB) = (BitOperations.PopCount(a ^ chosen), BitOperations.PopCount(b ^ chosen));
        var first = (a ^ b) & (~(a ^ b) + 1);
        return changesA != changesB ? changesA < changesB : (a & first) != 0;
    }

    private static IEnumerable<ulong> Each(ulong set)
    {
        for (; set != 0; set &= set - 1)
        {
            yield return set & (~set + 1);
        }
    }
}
