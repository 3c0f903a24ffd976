using System.Numerics;
using System.Runtime.InteropServices;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Onsets;

/// <summary>
/// How strongly sound begins, along the session: rises of the level, in steps of 256 samples, added up over all clips. The
/// tempo is the lag at which the curve is most like itself.
/// </summary>
public sealed class OnsetCurve
{
    private const int Step = PeakPyramid.FinestStretch;
    private const double LevelScale = 100;
    private const double SlowestTempo = 40;
    private const double FastestTempo = 240;
    private const double TempoStep = 0.25;
    private const double AsHigh = 0.98;
    private const int Repeats = 4;
    private const int FewestSteps = 1500;
    private readonly SampleRate _rate;
    private readonly float[] _rises;

    /// <param name="rate">The session's.</param>
    /// <param name="length">Of the session, in samples; an hour is enough to know a tempo by.</param>
    public OnsetCurve(SampleRate rate, long length)
    {
        _rate = rate;
        _rises = new float[(int)Math.Min((length / Step) + 1, 3600 * rate.HeaderHz / Step)];
    }

    private double StepsPerSecond => _rate.PerSecond.ToDouble() / Step;

    /// <summary>Adds a clip's rises where it lies.</summary>
    public void Add(Clip clip, Media media, PeakPyramid peaks)
    {
        var pairs = peaks.Level(0);
        var ratio = media.Rate.PerSecond.ToDouble() / _rate.PerSecond.ToDouble();
        var gain = Decibels.ToRatio(clip.GainDb);
        var before = 0.0;
        for (var at = Math.Max(0, clip.Start / Step); at < Math.Min(_rises.Length, clip.End / Step); at++)
        {
            var place = (long)((clip.SourceOffset + (((at * Step) - clip.Start) * ratio)) / Step);
            var level = Math.Log(1 + (LevelScale * gain * Level(pairs, place, peaks.Channels)));
            _rises[at] += (float)Math.Max(0, level - before);
            before = level;
        }
    }

    /// <summary>The tempo of the curve, or null where there is too little of it to tell.</summary>
    /// <param name="map">Quarters a minute that the session says.</param>
    public TempoEstimate? Estimate(double map)
    {
        var curve = Sharpened();
        if (curve.Length < FewestSteps || !curve.Any(v => v > 0))
        {
            return null;
        }

        var likeness = Likeness(curve, (int)(60 / SlowestTempo * Repeats * StepsPerSecond) + 2);
        var scores = Enumerable.Range(0, (int)((FastestTempo - SlowestTempo) / TempoStep) + 1).Select(i => Score(likeness, SlowestTempo + (i * TempoStep))).ToArray();
        var (best, score) = Middle(scores);
        double[] family = [map / 2, map, map * 2];
        var said = family.Where(t => t is >= SlowestTempo and <= FastestTempo).SelectMany(t => new[] { -0.5, -0.25, 0, 0.25, 0.5 }.Select(d => Score(likeness, t + d))).DefaultIfEmpty(0).Max();
        return new TempoEstimate(best, Math.Clamp(score, 0, 1), Math.Clamp(said, 0, 1));
    }

    // Neighbours of the best score nearly as high, for steps are coarse; the tempo lies in their middle.
    private static (double Tempo, double Score) Middle(double[] scores)
    {
        var best = Array.IndexOf(scores, scores.Max());
        var (first, last) = (best, best);
        while (first > 0 && scores[first - 1] >= AsHigh * scores[best])
        {
            first--;
        }

        while (last + 1 < scores.Length && scores[last + 1] >= AsHigh * scores[best])
        {
            last++;
        }

        return (SlowestTempo + ((first + last) / 2.0 * TempoStep), scores[best]);
    }

    private static double Level(ReadOnlySpan<short> pairs, long place, int channels)
    {
        var most = 0;
        for (var i = place * channels * 2; i < (place + 1) * channels * 2; i++)
        {
            most = i >= 0 && i < pairs.Length ? Math.Max(most, Math.Abs((int)pairs[(int)i])) : most;
        }

        return most / 32767.0;
    }

    /// <summary>The curve above its mean over a second, so that slow swells do not count.</summary>
    private float[] Sharpened()
    {
        var half = (int)(StepsPerSecond / 2);
        var sums = new double[_rises.Length + 1];
        for (var i = 0; i < _rises.Length; i++)
        {
            sums[i + 1] = sums[i] + _rises[i];
        }

        var result = new float[_rises.Length];
        for (var i = 0; i < result.Length; i++)
        {
            var (from, to) = (Math.Max(0, i - half), Math.Min(result.Length, i + half + 1));
            result[i] = (float)Math.Max(0, _rises[i] - ((sums[to] - sums[from]) / (to - from)));
        }

        return result;
    }

    /// <summary>How much the curve is like itself at each lag, 1 at none, 0 where it is as by chance.</summary>
    private static double[] Likeness(float[] curve, int most)
    {
        var mean = curve.Average();
        var centred = curve.Select(v => v - mean).ToArray();
        var result = new double[Math.Min(most, curve.Length / 2)];
        Parallel.For(0, result.Length, lag => result[lag] = Product(centred.AsSpan(lag), centred.AsSpan(0, centred.Length - lag)));
        var whole = result[0];
        return result.Select(v => v / whole).ToArray();
    }

    private static double Product(ReadOnlySpan<float> a, ReadOnlySpan<float> b)
    {
        var x = MemoryMarshal.Cast<float, Vector<float>>(a);
        var y = MemoryMarshal.Cast<float, Vector<float>>(b);
        var sums = Vector<float>.Zero;
        for (var i = 0; i < y.Length; i++)
        {
            sums += x[i] * y[i];
        }

        return Vector.Sum(sums);
    }

    private double Score(double[] likeness, double tempo)
    {
        var lag = 60 / tempo * StepsPerSecond;
        var sum = 0.0;
        for (var k = 1; k <= Repeats; k++)
        {
            // A beat may fall on either side of a step.
            var i = (int)Math.Round(lag * k);
            var near = 0.0;
            for (var j = Math.Max(0, i - 1); j <= i + 1 && j < likeness.Length; j++)
            {
                near = Math.Max(near, likeness[j]);
            }

            sum += near;
        }

        return sum / Repeats;
    }
}
