using System.Numerics.Tensors;

namespace Lyrotrans.Audio.Peaks;

/// <summary>Smallest and largest sample of a stretch; 1 is full scale.</summary>
public readonly record struct Extremes(double Low, double High)
{
    /// <summary>The largest distance from zero.</summary>
    public double Magnitude => Math.Max(-Low, High);

    /// <param name="samples">One at least.</param>
    public static Extremes Of(ReadOnlySpan<double> samples) => new(TensorPrimitives.Min(samples), TensorPrimitives.Max(samples));
}
