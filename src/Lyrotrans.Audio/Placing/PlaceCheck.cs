using System.Numerics.Tensors;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>Holds places that may be right against stretches from all over a sound: where it truly lies, they lie too.</summary>
/// <param name="reference">At the rate of the analysis.</param>
internal sealed class PlaceCheck(float[] reference)
{
    private const int Size = 2 * SoundProbe.Stretch;
    private const int Before = SoundProbe.Stretch / 2;

    // Three eighths of a millisecond.
    private const int Near = 3;
    private const double LeastClearness = 5;
    private const int Likeliest = 3;
    private const double LeastCorrelation = 0.05;
    private const double Unlikely = 0.25;
    private const double AsHigh = 0.7;

    private readonly double _power = PhaseLikeness.Power(reference);

    /// <summary>Which stretches of the sound lie at each of the likeliest places, and the correlation of those that do.</summary>
    public IReadOnlyList<(long Place, bool[] Lies, double Correlation)> Check(SoundProbe sound, IReadOnlyList<(long Place, double Clearness)> all)
    {
        // Samples are multiplied sooner than spectra.
        var likely = all.Select(p => (p.Place, Score: p.Clearness * (LeastCorrelation + sound.Stretches.Average(s => Math.Abs(Correlation(s.Samples, Around(p.Place + s.At)))))))
            .OrderByDescending(p => p.Score).Take(Likeliest).ToList();
        var places = likely.Where(p => p.Score >= Unlikely * likely[0].Score).Select(p => p.Place).ToList();
        var found = places.Select(_ => new (bool Lies, double Correlation)[sound.Stretches.Count]).ToList();
        for (var s = 0; s < sound.Stretches.Count; s += 2)
        {
            var (first, second) = (sound.Stretches[s], s + 1 < sound.Stretches.Count ? sound.Stretches[s + 1] : (At: 0, Samples: []));
            var sought = PhaseLikeness.Sought(first.Samples, second.Samples, Size);
            for (var p = 0; p < places.Count; p++)
            {
                var (here, there) = (Around(places[p] + first.At), Around(places[p] + second.At));
                var through = PhaseLikeness.Through(here, there, Size, _power);
                var likeness = PhaseLikeness.Of((through.First, sought.First), (through.Second, sought.Second));
                found[p][s] = (Lies(likeness, v => v.Real), Correlation(first.Samples, here));
                if (second.Samples.Length > 0)
                {
                    found[p][s + 1] = (Lies(likeness, v => v.Imaginary), Correlation(second.Samples, there));
                }
            }
        }

        return [.. found.Zip(places, (f, p) => (p, f.Select(s => s.Lies).ToArray(), f.Where(s => s.Lies).Select(s => Math.Abs(s.Correlation)).DefaultIfEmpty(0).Average()))];
    }

    private static bool Lies(Complex32[] likeness, Func<Complex32, float> part)
    {
        var (most, here, power) = (0f, 0f, 0.0);
        for (var i = 0; i < SoundProbe.Stretch; i++)
        {
            var value = Math.Abs(part(likeness[i]));
            most = Math.Max(most, value);
            here = Math.Abs(i - Before) <= Near ? Math.Max(here, value) : here;
            power += (double)value * value;
        }

        return here >= AsHigh * most && here > LeastClearness * Math.Sqrt(power / SoundProbe.Stretch);
    }

    private static double Correlation(float[] samples, float[] block) => Correlation(samples, block, Before);

    /// <summary>Of a stretch with what lies about a sample of a block, the highest of either polarity.</summary>
    public static double Correlation(float[] samples, float[] block, int about)
    {
        var best = 0.0;
        for (var at = Math.Max(0, about - Near); at <= Math.Min(block.Length - samples.Length, about + Near); at++)
        {
            var other = block.AsSpan(at, samples.Length);
            var energy = (double)TensorPrimitives.SumOfSquares<float>(other) * TensorPrimitives.SumOfSquares<float>(samples);
            var correlation = energy > 0 ? TensorPrimitives.Dot<float>(samples, other) / Math.Sqrt(energy) : 0;
            best = Math.Abs(correlation) > Math.Abs(best) ? correlation : best;
        }

        return best;
    }

    private float[] Around(long at)
    {
        var from = at - Before;
        var block = new float[Size];
        var (begin, end) = (Math.Clamp(from, 0, reference.Length), Math.Clamp(from + Size, 0, reference.Length));
        reference.AsSpan((int)begin, (int)(end - begin)).CopyTo(block.AsSpan((int)Math.Clamp(begin - from, 0, Size)));
        return block;
    }
}
