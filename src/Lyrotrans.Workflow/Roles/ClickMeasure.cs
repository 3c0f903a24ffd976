using System.Numerics.Tensors;
using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Roles;

/// <summary>Holds a click that came along to the session's grid: each onset to its nearest beat.</summary>
public static class ClickMeasure
{
    private const int Block = 16_384;

    // A click rises within a few samples; what rings after it or between beats is lower.
    private const double Threshold = 0.25;
    private const double QuietSeconds = 0.04;

    // Of a beat: further from it an onset is on none.
    private const double Near = 0.2;
    private const double MostOff = 0.2;

    /// <param name="session">Whose grid.</param>
    /// <param name="click">From session sample 0 on, at the session's rate.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static RoleMeasure Of(Session session, ISampleSource click, CancellationToken stop)
    {
        var peak = 0.0;
        Read(click, s => peak = Math.Max(peak, Math.Abs(TensorPrimitives.MaxMagnitude(s))), stop);
        if (peak == 0)
        {
            return new RoleMeasure("silent", null);
        }

        var reader = new OnsetReader(peak * Threshold, (int)session.Rate.SamplesIn(new Rational(1, (long)(1 / QuietSeconds))).RoundToEven());
        Read(click, s => reader.Take(s), stop);
        var beats = ClickTrack.Beats(session, new ClickChoices(), new SampleRange(0, click.Length)).Select(b => b.Sample).ToList();
        return beats.Count < 2 || reader.Onsets.Count < 2 ? new RoleMeasure($"{Phrases.Count(reader.Onsets.Count, "onset")}, too few to tell", null) : Held(session, beats, reader.Onsets);
    }

    private static RoleMeasure Held(Session session, List<long> beats, IReadOnlyList<long> onsets)
    {
        var (off, at, strays) = (new List<long>(), new List<long>(), 0);
        foreach (var onset in onsets)
        {
            var (beat, length) = Nearest(beats, onset);
            if (Math.Abs(onset - beat) > Near * length)
            {
                strays++;
                continue;
            }

            off.Add(onset - beat);
            at.Add(onset);
        }

        if (off.Count < 2 || strays > MostOff * onsets.Count)
        {
            return new RoleMeasure($"{Phrases.Count(onsets.Count, "onset")}, {Digits.Grouped(strays)} of them on no beat: no click, or one of another grid", null);
        }

        var (middle, drift) = (off.Order().ElementAt(off.Count / 2), PerMinute(session, at, off));
        var spread = off.Max() == off.Min() ? Digits.Grouped(off[0]) : $"{Digits.Grouped(off.Min())} to {Digits.Grouped(off.Max())}";
        var words = $"{Phrases.Count(onsets.Count, "onset")}, off by {spread} samples{(Math.Abs(drift) >= 1 ? FormattableString.Invariant($", drifting {drift:0.0} samples a minute") : string.Empty)}{(strays > 0 ? $", {Digits.Grouped(strays)} on no beat" : string.Empty)}";
        return new RoleMeasure(words, middle);
    }

    private static (long Beat, long Length) Nearest(List<long> beats, long onset)
    {
        var found = beats.BinarySearch(onset);
        var after = Math.Clamp(found >= 0 ? found : ~found, 1, beats.Count - 1);
        var (before, next) = (beats[after - 1], beats[after]);
        return (onset - before < next - onset ? before : next, next - before);
    }

    // The slope of a straight line through all of them.
    private static double PerMinute(Session session, List<long> at, List<long> off)
    {
        var (x, y) = (at.Average(), off.Average());
        var spread = at.Sum(a => (a - x) * (a - x));
        return spread == 0 ? 0 : at.Zip(off, (a, o) => (a - x) * (o - y)).Sum() / spread * session.Rate.SamplesIn(60).ToDouble();
    }

    private static void Read(ISampleSource sound, Action<ReadOnlySpan<double>> take, CancellationToken stop)
    {
        var planar = Enumerable.Range(0, sound.Channels).Select(_ => new double[Block]).ToArray();
        for (long start = 0; start < sound.Length; start += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, sound.Length - start);
            sound.Read(start, count, planar);
            take(planar[0].AsSpan(0, count));
        }
    }
}
