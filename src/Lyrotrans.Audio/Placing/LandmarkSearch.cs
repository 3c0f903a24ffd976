using Lyrotrans.Core.Collections;

namespace Lyrotrans.Audio.Placing;

/// <summary>Finds by landmarks where a sound may lie in many others.</summary>
public sealed class LandmarkSearch
{
    // So many that one part in a hundred of them, which is left under noise and beside other parts, still stands out.
    private const int Enough = 3_000;

    // Of what is a copy, or nearly, one in ten is left.
    private const int EnoughOfCopy = 600;

    // Fewer are at one distance by chance, in this many standard deviations, or of all that it has: parts of a piece keep time with each other.
    private const int Least = 8;
    private const double LeastClearness = 6;
    private const int LeastPart = 1_000;

    // A sound that drifts a little lies at no one distance.
    private const int Beside = 1;
    private const int MostOfOne = 3;
    private const int Apart = 4;

    private readonly double _perSecond;
    private readonly IReadOnlyList<(int First, LandmarkIndex Index)> _sent;

    /// <param name="sent">Of the sounds that are looked through; all begin at one place.</param>
    /// <param name="perSecond">Their samples a second.</param>
    /// <param name="stop">Heeded between some of them.</param>
    public LandmarkSearch(IReadOnlyList<Landmarks> sent, double perSecond, CancellationToken stop)
    {
        _perSecond = perSecond;
        // Some for each processor.
        var some = sent.Select((s, i) => (Sound: s, Number: i)).Chunk(Math.Clamp((sent.Count + Environment.ProcessorCount - 1) / Environment.ProcessorCount, 1, LandmarkIndex.Most)).ToList();
        _sent = AtOnce.Select(some, s => (s[0].Number, new LandmarkIndex([.. s.Select(one => one.Sound)])), stop);
    }

    /// <summary>Whether a sound has so many different ones that it would be found, if it were of another; what is short or steady, or a loop, has not.</summary>
    public static bool WouldFind(Landmarks sound) => sound.Different >= Enough;

    /// <summary>Whether it would be found if it were a copy, or nearly: at another speed nobody adds noise or other parts.</summary>
    public static bool WouldFindCopy(Landmarks sound) => sound.Different >= EnoughOfCopy;

    /// <summary>Where a sound may lie; where most of its landmarks lie first. The place is right to 16 ms.</summary>
    public IReadOnlyList<LandmarkPlace> Find(Landmarks sound, CancellationToken stop) =>
        [.. AtOnce.Select(_sent, s => s.Index.VotesFor(sound).SelectMany((v, i) => Find(s.First + i, sound, v.Votes, v.Before)).ToList(), stop).SelectMany(p => p).OrderByDescending(p => p.Votes)];

    private List<LandmarkPlace> Find(int of, Landmarks sound, int[] votes, int before)
    {
        var byChance = votes.Length == 0 ? 0 : votes.Sum(v => (double)v) * ((2 * Beside) + 1) / votes.Length;
        var least = Math.Max(Math.Max(Least, sound.Count / LeastPart), byChance + (LeastClearness * Math.Sqrt(byChance + 1)));
        var found = new List<(int At, int Votes)>();
        for (var at = 0; at < votes.Length; at++)
        {
            var here = 0;
            for (var by = Math.Max(0, at - Beside); by <= Math.Min(votes.Length - 1, at + Beside); by++)
            {
                here += votes[by];
            }

            if (here >= least)
            {
                found.Add((at, here));
            }
        }

        var kept = new List<LandmarkPlace>();
        var taken = new List<int>();
        foreach (var (at, here) in found.OrderByDescending(f => f.Votes))
        {
            if (taken.TrueForAll(t => Math.Abs(t - at) > Apart))
            {
                taken.Add(at);
                kept.Add(new LandmarkPlace(of, (double)(at - before) * LandmarkPeaks.Hop * _perSecond / AnalysisSound.Hz, here));
            }

            if (kept.Count == MostOfOne)
            {
                break;
            }
        }

        return kept;
    }
}
