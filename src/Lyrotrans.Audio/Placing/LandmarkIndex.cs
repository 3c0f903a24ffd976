namespace Lyrotrans.Audio.Placing;

/// <summary>Landmarks of several sounds by what they are known by, so that those of another are looked up.</summary>
internal sealed class LandmarkIndex
{
    /// <summary>So many sounds at most.</summary>
    public const int Most = 1 << (31 - TimeBits);

    private const int TimeBits = 24;

    // What comes again so often says nothing of where.
    private const int MostOfOne = 1 << 20;

    // Two sounds are not cut at the same hundredth of a second.
    private const int Stray = 1;

    // 64 MB of votes at once.
    private const long MostVotes = 1 << 24;
    private readonly int[] _starts = new int[Landmarks.Keys + 1];
    private readonly int[] _entries;
    private readonly int[] _lengths;

    /// <param name="sounds">At most <see cref="Most"/>.</param>
    public LandmarkIndex(IReadOnlyList<Landmarks> sounds)
    {
        _entries = new int[sounds.Sum(s => s.Count)];
        _lengths = [.. sounds.Select(s => s.Count == 0 ? 0 : LastOf(s) + 1)];
        foreach (var sound in sounds)
        {
            foreach (var key in sound.Key)
            {
                _starts[key + 1]++;
            }
        }

        for (var key = 0; key < Landmarks.Keys; key++)
        {
            _starts[key + 1] += _starts[key];
        }

        var next = _starts.AsSpan(0, Landmarks.Keys).ToArray();
        for (var n = 0; n < sounds.Count; n++)
        {
            var keys = sounds[n].Key;
            var times = sounds[n].Time;
            for (var i = 0; i < keys.Length; i++)
            {
                _entries[next[keys[i]]++] = (n << TimeBits) | times[i];
            }
        }
    }

    /// <summary>For each sound how many landmarks lie at each distance, where another begins so many <see cref="LandmarkPeaks.Hop"/>s after the first of it.</summary>
    /// <returns>The number at each distance, the first of them −<c>Before</c>; none where one of the two has no landmarks.</returns>
    public IEnumerable<(int[] Votes, int Before)> VotesFor(Landmarks other)
    {
        var before = other.Count == 0 ? 0 : LastOf(other);
        for (var from = 0; from < _lengths.Length;)
        {
            var (votes, all) = (new List<int[]>(), 0L);
            do
            {
                var length = other.Count == 0 || _lengths[from + votes.Count] == 0 ? 0 : before + _lengths[from + votes.Count];
                votes.Add(new int[length]);
                all += length;
            }
            while (from + votes.Count < _lengths.Length && all < MostVotes);

            Vote(other, before, from, votes);
            foreach (var some in votes)
            {
                yield return (some, before);
            }

            from += votes.Count;
        }
    }

    private static int LastOf(Landmarks sound)
    {
        var last = 0;
        foreach (var time in sound.Time)
        {
            last = Math.Max(last, time);
        }

        return last;
    }

    private void Vote(Landmarks other, int before, int from, List<int[]> votes)
    {
        var keys = other.Key;
        var times = other.Time;
        for (int i = 0, next; i < keys.Length; i = next)
        {
            for (next = i + 1; next < keys.Length && keys[next] == keys[i]; next++)
            {
            }

            // The time between two peaks is one more or less as their spectra begin.
            for (var key = Math.Max(0, keys[i] - Stray); key <= Math.Min(Landmarks.Keys - 1, keys[i] + Stray); key++)
            {
                Vote(_entries.AsSpan(_starts[key], _starts[key + 1] - _starts[key]), times[i..next], before, from, votes);
            }
        }
    }

    private static void Vote(ReadOnlySpan<int> ours, ReadOnlySpan<int> theirs, int before, int from, List<int[]> votes)
    {
        while (ours.Length > 0)
        {
            var (of, count) = (ours[0] >> TimeBits, 1);
            while (count < ours.Length && ours[count] >> TimeBits == of)
            {
                count++;
            }

            if (of >= from && of < from + votes.Count && (long)count * theirs.Length <= MostOfOne)
            {
                var here = votes[of - from];
                foreach (var entry in ours[..count])
                {
                    var at = (entry & ((1 << TimeBits) - 1)) + before;
                    foreach (var time in theirs)
                    {
                        here[at - time]++;
                    }
                }
            }

            ours = ours[count..];
        }
    }
}
