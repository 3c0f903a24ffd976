using System.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Magnitudes of the spectra of short stretches, one after the other, many at once: each stretch has a lane of the processor's vectors to itself, so that all of them take the time of one, and are the same on every
/// machine.
/// </summary>
internal static class Spectrogram
{
    /// <summary>One spectrum for each stretch that lies in the samples whole, from 0 to half the rate; the last is not told.</summary>
    /// <param name="samples">Of one channel.</param>
    /// <param name="size">Of a stretch, a power of two.</param>
    /// <param name="hop">From one to the next.</param>
    /// <param name="stop">Heeded all along.</param>
    public static float[][] Of(float[] samples, int size, int hop, CancellationToken stop)
    {
        var count = samples.Length < size ? 0 : ((samples.Length - size) / hop) + 1;
        var result = Enumerable.Range(0, count).Select(_ => new float[size / 2]).ToArray();
        var (lanes, window, turns, order) = (Vector<float>.Count, Window(size), Turns(size), Order(size));
        var (real, imaginary) = (new Vector<float>[size], new Vector<float>[size]);

        // Real ones go in twos: what is even in the spectrum is of the first, what is odd of the second.
        for (var t = 0; t < count; t += 2 * lanes)
        {
            stop.ThrowIfCancellationRequested();
            for (var i = 0; i < size; i++)
            {
                (real[order[i]], imaginary[order[i]]) = (Lanes(samples, t, i) * window[i], Lanes(samples, t + lanes, i) * window[i]);
            }

            Transform(real, imaginary, turns);
            for (var f = 1; f < size / 2; f++)
            {
                var (a, b, c, d) = (real[f], imaginary[f], real[size - f], imaginary[size - f]);
                Put(result, t, f, Vector.SquareRoot(((a + c) * (a + c)) + ((b - d) * (b - d))));
                Put(result, t + lanes, f, Vector.SquareRoot(((b + d) * (b + d)) + ((c - a) * (c - a))));
            }
        }

        return result;

        Vector<float> Lanes(float[] from, int first, int i)
        {
            Span<float> values = stackalloc float[Vector<float>.Count];
            for (var lane = 0; lane < values.Length; lane++)
            {
                values[lane] = first + lane < count ? from[((first + lane) * hop) + i] : 0;
            }

            return new Vector<float>(values);
        }
    }

    private static void Put(float[][] result, int first, int f, Vector<float> values)
    {
        for (var lane = 0; lane < Vector<float>.Count && first + lane < result.Length; lane++)
        {
            result[first + lane][f] = values[lane];
        }
    }

    /// <summary>The transform of values in their order of bits turned round, by twos.</summary>
    private static void Transform(Vector<float>[] real, Vector<float>[] imaginary, (float Cos, float Sin)[] turns)
    {
        for (var half = 1; half < real.Length; half *= 2)
        {
            for (var k = 0; k < half; k++)
            {
                var (cos, sin) = turns[k * (real.Length / (2 * half))];
                for (var i = k; i < real.Length; i += 2 * half)
                {
                    var (a, b) = (real[i + half], imaginary[i + half]);
                    var (x, y) = ((a * cos) - (b * sin), (a * sin) + (b * cos));
                    (real[i + half], imaginary[i + half]) = (real[i] - x, imaginary[i] - y);
                    (real[i], imaginary[i]) = (real[i] + x, imaginary[i] + y);
                }
            }
        }
    }

    private static float[] Window(int size) => [.. Enumerable.Range(0, size).Select(i => (float)(0.5 - (0.5 * Math.Cos(2 * Math.PI * i / (size - 1)))))];

    private static (float Cos, float Sin)[] Turns(int size) => [.. Enumerable.Range(0, size / 2).Select(k => ((float)Math.Cos(2 * Math.PI * k / size), (float)-Math.Sin(2 * Math.PI * k / size)))];

    private static int[] Order(int size)
    {
        var bits = BitOperations.Log2((uint)size);
        return [.. Enumerable.Range(0, size).Select(i => Enumerable.Range(0, bits).Sum(b => ((i >> b) & 1) << (bits - 1 - b)))];
    }
}
