using System.Numerics.Tensors;
using Lyrotrans.Audio.Transforms;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// How like two stretches of sound are at each shift, by the phases of their spectra alone: levels, and what an equaliser made of them, count as little as what one pitch is louder than another.
/// A place where they are the same stands out as one sharp point.
/// </summary>
internal static class PhaseLikeness
{
    // What is 50 dB below the mean of a sound's spectrum is no part of it.
    private const float Floor = 1e-5f;

    // What is 60 dB below the mean of all that is looked through is silence: its phases say nothing.
    private const double Silence = 1e-6;

    /// <summary>The spectrum of what is looked for: phases, and how much each counts; turned round in time. From 0 to half the size.</summary>
    /// <param name="size">A power of two, at least twice as long as the sounds for shifts that do not run round.</param>
    public static (Complex32[] First, Complex32[] Second) Sought(ReadOnlySpan<float> first, ReadOnlySpan<float> second, int size)
    {
        var spectra = Spectra(first, second, size);
        Whiten(spectra.First);
        Whiten(spectra.Second);
        return spectra;

        static void Whiten(Complex32[] spectrum)
        {
            var mean = 0f;
            foreach (var value in spectrum)
            {
                mean += value.MagnitudeSquared / spectrum.Length;
            }

            for (var i = 0; i < spectrum.Length; i++)
            {
                var power = spectrum[i].MagnitudeSquared;
                spectrum[i] = power == 0 ? Complex32.Zero : spectrum[i].Conjugate() / MathF.Sqrt(power) * (power / (power + (Floor * mean)));
            }
        }
    }

    /// <summary>The spectrum of what is looked through: phases alone, but for what is next to silence. From 0 to half the size.</summary>
    /// <param name="power">The mean square of all that is looked through.</param>
    public static (Complex32[] First, Complex32[] Second) Through(ReadOnlySpan<float> first, ReadOnlySpan<float> second, int size, double power) => Through(Spectra(first, second, size), power);

    /// <summary>The same of spectra as they are, in place.</summary>
    public static (Complex32[] First, Complex32[] Second) Through((Complex32[] First, Complex32[] Second) spectra, double power)
    {
        var size = 2 * (spectra.First.Length - 1);
        var floor = (float)(Silence * power * size) + float.Epsilon;
        Whiten(spectra.First, floor);
        Whiten(spectra.Second, floor);
        return spectra;

        static void Whiten(Complex32[] spectrum, float floor)
        {
            for (var i = 0; i < spectrum.Length; i++)
            {
                spectrum[i] /= MathF.Sqrt(spectrum[i].MagnitudeSquared + floor);
            }
        }
    }

    /// <summary>The mean square of a sound.</summary>
    public static double Power(ReadOnlySpan<float> sound) => sound.Length == 0 ? 0 : TensorPrimitives.SumOfSquares(sound) / sound.Length;

    /// <summary>The likeness at each shift from 0 of a first pair in the real part, of a second in the imaginary one.</summary>
    public static Complex32[] Of((Complex32[] Through, Complex32[] Sought) first, (Complex32[] Through, Complex32[] Sought) second)
    {
        var half = first.Sought.Length - 1;
        var result = new Complex32[2 * half];
        for (var i = 0; i <= half; i++)
        {
            var (a, b) = (first.Through[i] * first.Sought[i], second.Through[i] * second.Sought[i]);
            result[i] = new Complex32(a.Real - b.Imaginary, a.Imaginary + b.Real);
            if (i > 0 && i < half)
            {
                result[(2 * half) - i] = new Complex32(a.Real + b.Imaginary, b.Real - a.Imaginary);
            }
        }

        Fourier.Inverse(result);
        return result;
    }

    /// <summary>The likeness at each shift from 0 of all pairs together, in the real part.</summary>
    public static Complex32[] OfAll(IEnumerable<(Complex32[] Through, Complex32[] Sought)> pairs, int size)
    {
        var result = new Complex32[size];
        foreach (var (through, sought) in pairs)
        {
            for (var i = 0; i <= size / 2; i++)
            {
                result[i] += through[i] * sought[i];
            }
        }

        for (var i = 1; i < size / 2; i++)
        {
            result[size - i] = result[i].Conjugate();
        }

        Fourier.Inverse(result);
        return result;
    }

    /// <summary>The spectra of two sounds, from 0 to half the size, as they are. Two at once: what is even in the spectrum is of the first, what is odd of the second.</summary>
    public static (Complex32[] First, Complex32[] Second) Spectra(ReadOnlySpan<float> first, ReadOnlySpan<float> second, int size)
    {
        var values = new Complex32[size];
        for (var i = 0; i < Math.Max(first.Length, second.Length); i++)
        {
            values[i] = new Complex32(i < first.Length ? first[i] : 0, i < second.Length ? second[i] : 0);
        }

        Fourier.Forward(values);
        var half = size / 2;
        var (even, odd) = (new Complex32[half + 1], new Complex32[half + 1]);
        for (var i = 0; i <= half; i++)
        {
            var (a, b) = (values[i], values[(size - i) % size].Conjugate());
            even[i] = (a + b) / 2;
            odd[i] = new Complex32(a.Imaginary - b.Imaginary, b.Real - a.Real) / 2;
        }

        return (even, odd);
    }
}
