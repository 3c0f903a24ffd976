namespace Lyrotrans.Audio.Comparing;

/// <summary>How a found stretch of sound lies against the meant one.</summary>
/// <param name="Shift">Samples that the found sound is late; below zero it is early.</param>
/// <param name="GainDb">Its level less the meant one.</param>
public readonly record struct Alignment(int Shift, double GainDb)
{
    private const int Window = 32_768;

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

        var best = default(Alignment);
        var bestMatch = 0.0;
        for (var shift = -reach; shift <= reach; shift++)
        {
            var other = found.Slice(at + reach + shift, length);
            var cross = Dot(piece, other);
            var match = cross / Math.Sqrt(energy * Math.Max(Dot(other, other), 1e-30));
            if (match > bestMatch + 1e-12)
            {
                bestMatch = match;
                best = new Alignment(shift, 20 * Math.Log10(cross / energy));
            }
        }

        return bestMatch > 0.9 ? best : null;
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

    private static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var sum = System.Numerics.Vector<double>.Zero;
        var width = System.Numerics.Vector<double>.Count;
        var i = 0;
        for (; i + width <= a.Length; i += width)
        {
            sum += new System.Numerics.Vector<double>(a[i..]) * new System.Numerics.Vector<double>(b[i..]);
        }

        var total = System.Numerics.Vector.Sum(sum);
        for (; i < a.Length; i++)
        {
            total += a[i] * b[i];
        }

        return total;
    }
}
