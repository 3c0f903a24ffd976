using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Silences;

/// <summary>Finds where a file has sound and where it is silent, to the sample, and measures what is lost when the silences go.</summary>
public static class SilenceFinder
{
    private const int Block = 1 << 15;

    /// <summary>Where there is sound, with what stays around it; ascending, and none touches the next. None where all is silent. What is not a number is no silence.</summary>
    /// <param name="source">The file.</param>
    /// <param name="within">The frames that are looked at; what lies outside does not count.</param>
    /// <param name="rule">What is silence.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public static IReadOnlyList<SampleRange> Sounds(ISampleSource source, SampleRange within, SilenceRule rule, CancellationToken stop)
    {
        var sounds = new List<SampleRange>();
        var (start, last) = (0L, -1L);
        Each(source, within, (at, count, planar) =>
        {
            for (var i = 0; i < count; i++)
            {
                if (!IsLoud(planar, i, rule.Threshold))
                {
                    continue;
                }

                // A silence that is too short to part anything stays, also before the first sound.
                var silent = at + i - (last < 0 ? within.Start : last + 1);
                if (last < 0)
                {
                    start = silent < rule.Shortest ? within.Start : at + i;
                }
                else if (silent >= rule.Shortest)
                {
                    sounds.Add(new SampleRange(start, last + 1));
                    start = at + i;
                }

                last = at + i;
            }
        }, stop);
        if (last >= 0)
        {
            sounds.Add(new SampleRange(start, within.End - last - 1 < rule.Shortest ? within.End : last + 1));
        }

        return Joined(sounds.Select(s => new SampleRange(Math.Max(within.Start, s.Start - rule.Before), Math.Min(within.End, s.End + rule.After))));
    }

    /// <summary>Ranges in order, with those that touch or lie over each other made one.</summary>
    public static IReadOnlyList<SampleRange> Joined(IEnumerable<SampleRange> ranges)
    {
        var joined = new List<SampleRange>();
        foreach (var range in ranges)
        {
            if (joined.Count > 0 && range.Start <= joined[^1].End)
            {
                joined[^1] = new SampleRange(joined[^1].Start, Math.Max(joined[^1].End, range.End));
            }
            else
            {
                joined.Add(range);
            }
        }

        return joined;
    }

    /// <summary>The highest amplitude of what the kept stretches leave of the file: all that lies outside them, and what their fades take away.</summary>
    /// <param name="source">The file.</param>
    /// <param name="within">The frames that are looked at.</param>
    /// <param name="kept">Ascending; none lies over another.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public static double ResidualPeak(ISampleSource source, SampleRange within, IReadOnlyList<KeptSpan> kept, CancellationToken stop)
    {
        var (peak, k) = (0.0, 0);
        Each(source, within, (at, count, planar) =>
        {
            for (var i = 0; i < count; i++)
            {
                while (k < kept.Count && at + i >= kept[k].Frames.End)
                {
                    k++;
                }

                var lost = k < kept.Count && at + i >= kept[k].Frames.Start ? 1 - kept[k].GainAt(at + i) : 1;
                for (var c = 0; lost > 0 && c < planar.Length; c++)
                {
                    peak = Math.Max(peak, Math.Abs(planar[c][i]) * lost);
                }
            }
        }, stop);
        return peak;
    }

    private static bool IsLoud(double[][] planar, int i, double threshold)
    {
        foreach (var channel in planar)
        {
            // Turned around, so that what is not a number is loud.
            if (!(Math.Abs(channel[i]) <= threshold))
            {
                return true;
            }
        }

        return false;
    }

    private static void Each(ISampleSource source, SampleRange within, Action<long, int, double[][]> take, CancellationToken stop)
    {
        var planar = Enumerable.Range(0, source.Channels).Select(_ => new double[Block]).ToArray();
        for (var at = within.Start; at < within.End; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, within.End - at);
            source.Read(at, count, planar);
            take(at, count, planar);
        }
    }
}
