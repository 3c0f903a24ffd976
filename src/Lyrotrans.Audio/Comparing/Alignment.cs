using System.Numerics;
using System.Numerics.Tensors;
using Lyrotrans.Audio.Transforms;

namespace Lyrotrans.Audio.Comparing;

/// <summary>How a found stretch of sound lies against the meant one.</summary>
/// <param name="Shift">Samples that the found sound is late; below zero it is early.</param>
/// <param name="GainDb">Its level less the meant one.</param>
public readonly record struct Alignment(int Shift, double GainDb)
{
    private const int Window = 32_768;

    // Of all energy: less is rounded away where sums are taken from each other.
    private const double Soft = 1e-6;
    private const double Rounded = 1e-6;

    /// <summary>Finds shift and level by correlation, within a number of samples either way.</summary>
    /// <param name="meant">The stretch.</param>
    /// <param name="found">The found sound around it: <paramref name="reach"/> samples more at each end.</param>
    /// <returns>None where either is silent or they have too little in common.</returns>
    public static Alignment? Of(ReadOnlySpan<double> meant, ReadOnlySpan<double> found, int reach)
    {
        var (at, length) = Loudest(meant);
        var piece = meant.Slice(at, length);
        var energy = Dot(piece, piece);
        if (energy < 1e-12)
        {
            return null;
        }

        var (best, bestMatch) = (default(Alignment), 0.0);
        foreach (var shift in Likely(piece, found.Slice(at, length + (2 * reach)), energy))
        {
            var other = found.Slice(at + shift, length);
            var cross = Dot(piece, other);
            var match = cross / Math.Sqrt(energy * Math.Max(Dot(other, other), 1e-30));
            if (match > bestMatch + 1e-12)
            {
                bestMatch = match;
                best = new Alignment(shift - reach, 20 * Math.Log10(cross / energy));
            }
        }

        return bestMatch > 0.9 ? best : null;
    }

    /// <summary>Where a piece may lie best, ascending: those that rounding cannot tell from the best, and those where next to nothing sounds, whose sums it leaves nothing of.</summary>
    private static List<int> Likely(ReadOnlySpan<double> piece, ReadOnlySpan<double> found, double energy)
    {
        var (cross, sums) = (Correlation(piece, found), Sums(found));
        var matches = new double[found.Length - piece.Length + 1];
        for (var shift = 0; shift < matches.Length; shift++)
        {
            var here = sums[shift + piece.Length] - sums[shift];
            matches[shift] = here > Soft * sums[^1] ? cross[shift].Real / Math.Sqrt(energy * here) : double.NaN;
        }

        var most = matches.Where(m => !double.IsNaN(m)).DefaultIfEmpty(0).Max();
        return [.. Enumerable.Range(0, matches.Length).Where(i => !(matches[i] < most - Rounded))];
    }

    /// <summary>The sum of products at each place that the piece lies in, in the real parts.</summary>
    private static Complex[] Correlation(ReadOnlySpan<double> piece, ReadOnlySpan<double> found)
    {
        var size = (int)BitOperations.RoundUpToPowerOf2((uint)found.Length);
        var (sought, through) = (Spectrum(piece, size), Spectrum(found, size));
        for (var i = 0; i < size; i++)
        {
            through[i] *= Complex.Conjugate(sought[i]) / size;
        }

        Fourier.Inverse(through);
        return through;
    }

    private static Complex[] Spectrum(ReadOnlySpan<double> samples, int size)
    {
        var values = new Complex[size];
        for (var i = 0; i < samples.Length; i++)
        {
            values[i] = samples[i];
        }

        Fourier.Forward(values);
        return values;
    }

    /// <summary>The energy of all samples before each.</summary>
    private static double[] Sums(ReadOnlySpan<double> samples)
    {
        var sums = new double[samples.Length + 1];
        for (var i = 0; i < samples.Length; i++)
        {
            sums[i + 1] = sums[i] + (samples[i] * samples[i]);
        }

        return sums;
    }

    private static (int At, int Length) Loudest(ReadOnlySpan<double> sound)
    {
        var length = Math.Min(Window, sound.Length);
        var (at, most) = (0, -1.0);
        for (var i = 0; i + length <= sound.Length; i += length)
        {
            var energy = Dot(sound.Slice(i, length), sound.Slice(i, length));
            (at, most) = energy > most ? (i, energy) : (at, most);
        }

        return (at, length);
    }

    private static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b) => TensorPrimitives.Dot(a, b);
}
