namespace Lyrotrans.Core.Arriving;

/// <summary>
/// Which clip of the other side is which that was sent. What is the same in all of medium, place in it, length and start is paired first; then what is the same in two of these, then in one; each time the
/// nearest. Clips whose sound nobody knows are paired by length and place last, and that is unsure.
/// </summary>
internal sealed class ArrivalPairs
{
    // Of one medium; more that are changed in everything nobody compares.
    private const int MostNear = 2000;
    private readonly List<ArrivalPair> _pairs = [];
    private readonly HashSet<ArrivalClip> _sent;
    private readonly HashSet<ArrivalClip> _found;

    private ArrivalPairs(IReadOnlyList<ArrivalClip> sent, IReadOnlyList<ArrivalClip> found)
    {
        (_sent, _found) = ([.. sent], [.. found]);
        Shift = CommonShift.Of(Cuts(sent), Cuts(found));
        Pair(c => (c.Media, c.Source, c.Length, c.Start), f => (f.Media, f.Source, f.Length, f.Start - Shift), f => f.Media is not null);
        Pair(c => (c.Media, c.Source, c.Length), f => (f.Media, f.Source, f.Length), f => f.Media is not null);
        Pair(c => (c.Media, c.Source, c.Start), f => (f.Media, f.Source, f.Start - Shift), f => f.Media is not null);
        Pair(c => (c.Media, c.Length, c.Start), f => (f.Media, f.Length, f.Start - Shift), f => f.Media is not null);
        Pair(c => (c.Media, c.Source), f => (f.Media, f.Source), f => f.Media is not null);
        Pair(c => (c.Media, c.Start), f => (f.Media, f.Start - Shift), f => f.Media is not null);
        Pair(c => (c.Media, c.Length), f => (f.Media, f.Length), f => f.Media is not null);
        Pair(c => (c.Start, c.Length), f => (f.Start - Shift, f.Length), f => f.Media is null, ArrivalBasis.Unsure);
        Pair(c => c.Length, f => f.Length, f => f.Media is null, ArrivalBasis.Unsure);
        Nearest();
    }

    /// <summary>Samples by which most of what was found lies later than it was sent.</summary>
    public long Shift { get; }

    /// <summary>In the order of the sent clips.</summary>
    public IReadOnlyList<ArrivalPair> All { get; private set; } = [];

    /// <summary>What was sent and is not there.</summary>
    public IReadOnlyList<ArrivalClip> Missing { get; private set; } = [];

    /// <summary>What is of nothing that was sent.</summary>
    public IReadOnlyList<ArrivalClip> Added { get; private set; } = [];

    public static ArrivalPairs Of(IReadOnlyList<ArrivalClip> sent, IReadOnlyList<ArrivalClip> found)
    {
        var pairs = new ArrivalPairs(sent, found);
        var order = sent.Select((c, i) => (c, i)).ToDictionary(c => c.c, c => c.i);
        (pairs.All, pairs.Missing, pairs.Added) = ([.. pairs._pairs.OrderBy(p => order[p.Sent])], [.. sent.Where(pairs._sent.Contains)], [.. found.Where(pairs._found.Contains)]);
        return pairs;
    }

    // How clips are cut from media that are known.
    private static IEnumerable<((string, long, long), long)> Cuts(IEnumerable<ArrivalClip> clips) => clips.Where(c => c.Media is not null).Select(c => ((c.Media!, c.Source, c.Length), c.Start));

    private void Pair<T>(Func<ArrivalClip, T> sent, Func<ArrivalClip, T> found, Func<ArrivalClip, bool> counts, ArrivalBasis? basis = null)
        where T : notnull
    {
        var theirs = _found.Where(counts).GroupBy(found).ToDictionary(g => g.Key, g => g.OrderBy(f => f.Start).ToList());
        foreach (var group in _sent.GroupBy(sent).Where(g => theirs.ContainsKey(g.Key)).ToList())
        {
            var (ours, candidates) = (group.OrderBy(c => c.Start).ToList(), theirs[group.Key]);
            foreach (var (a, b) in Aligned(ours, candidates))
            {
                Take(a, b, basis ?? b.Basis);
            }
        }
    }

    // Both ascend: of two that stand for one the nearer is taken, and no line crosses another.
    private IEnumerable<(ArrivalClip, ArrivalClip)> Aligned(List<ArrivalClip> sent, List<ArrivalClip> found)
    {
        var at = 0;
        for (var i = 0; i < sent.Count && at < found.Count; i++)
        {
            // So many are needed for those that still come; the rest may be passed over where a later one is nearer.
            while (found.Count - at > sent.Count - i && Away(sent[i], found[at + 1]) <= Away(sent[i], found[at]))
            {
                at++;
            }

            // Where there are fewer than were sent, one that is nearer to the next is left for it.
            if (found.Count - at < sent.Count - i && Away(sent[i + 1], found[at]) < Away(sent[i], found[at]))
            {
                continue;
            }

            yield return (sent[i], found[at++]);
        }
    }

    private long Away(ArrivalClip sent, ArrivalClip found) => Math.Abs(found.Start - Shift - sent.Start);

    // What was changed in all of place, length and start is still the same clip where its sound overlaps what was sent.
    private void Nearest()
    {
        foreach (var group in _found.Where(f => f.Media is not null).GroupBy(f => f.Media).ToList())
        {
            var ours = _sent.Where(s => s.Media == group.Key).Take(MostNear).ToList();
            var near = group.Take(MostNear).SelectMany(f => ours.Where(s => Math.Min(s.Source + s.Length, f.Source + f.Length) > Math.Max(s.Source, f.Source)).Select(s => (Sent: s, Found: f)));
            foreach (var (a, b) in near.OrderBy(p => Away(p.Sent, p.Found)).ToList())
            {
                if (_sent.Contains(a) && _found.Contains(b))
                {
                    Take(a, b, b.Basis);
                }
            }
        }
    }

    private void Take(ArrivalClip sent, ArrivalClip found, ArrivalBasis basis)
    {
        _sent.Remove(sent);
        _found.Remove(found);
        _pairs.Add(new ArrivalPair(sent, found, basis));
    }
}
