namespace Lyrotrans.Core.Effects;

/// <summary>
/// A second-order filter, y = b0·x + b1·x₋₁ + b2·x₋₂ − a1·y₋₁ − a2·y₋₂. Made by the bilinear transform of the analogue shapes, with the corner kept in place.
/// </summary>
public readonly record struct Biquad(double B0, double B1, double B2, double A1, double A2)
{
    /// <summary>The corner resonance of a flat (Butterworth) second-order slope.</summary>
    public const double Flat = 0.70710678118654752;

    /// <summary>Largest magnitude of a pole; the impulse response falls by this every sample in the end.</summary>
    public double PoleRadius
    {
        get
        {
            var root = (A1 * A1 / 4) - A2;
            return root < 0 ? Math.Sqrt(A2) : Math.Max(Math.Abs((-A1 / 2) + Math.Sqrt(root)), Math.Abs((-A1 / 2) - Math.Sqrt(root)));
        }
    }

    /// <summary>Lets pass what is below a corner.</summary>
    /// <param name="hz">The corner.</param>
    /// <param name="q">Its resonance; <see cref="Flat"/> has none.</param>
    /// <param name="rate">Samples a second.</param>
    public static Biquad LowPass(double hz, double q, double rate)
    {
        var (cos, alpha) = Corner(hz, q, rate);
        return Over((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    }

    /// <summary>Lets pass what is above a corner.</summary>
    /// <param name="hz">The corner.</param>
    /// <param name="q">Its resonance; <see cref="Flat"/> has none.</param>
    /// <param name="rate">Samples a second.</param>
    public static Biquad HighPass(double hz, double q, double rate)
    {
        var (cos, alpha) = Corner(hz, q, rate);
        return Over((1 + cos) / 2, -1 - cos, (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    }

    /// <summary>Raises or lowers what is around a frequency.</summary>
    /// <param name="hz">The middle.</param>
    /// <param name="q">How narrow it is.</param>
    /// <param name="decibels">By how much, in the middle.</param>
    /// <param name="rate">Samples a second.</param>
    public static Biquad Bell(double hz, double q, double decibels, double rate)
    {
        var (cos, alpha) = Corner(hz, q, rate);
        var a = Math.Pow(10, decibels / 40);
        return Over(1 + (alpha * a), -2 * cos, 1 - (alpha * a), 1 + (alpha / a), -2 * cos, 1 - (alpha / a));
    }

    /// <summary>Raises or lowers what is below a corner.</summary>
    /// <param name="hz">The corner, where half of it is reached.</param>
    /// <param name="decibels">By how much, far below it.</param>
    /// <param name="rate">Samples a second.</param>
    public static Biquad LowShelf(double hz, double decibels, double rate) => Shelf(hz, decibels, rate, 1);

    /// <summary>Raises or lowers what is above a corner.</summary>
    /// <param name="hz">The corner, where half of it is reached.</param>
    /// <param name="decibels">By how much, far above it.</param>
    /// <param name="rate">Samples a second.</param>
    public static Biquad HighShelf(double hz, double decibels, double rate) => Shelf(hz, decibels, rate, -1);

    private static Biquad Shelf(double hz, double decibels, double rate, int side)
    {
        var (cos, alpha) = Corner(hz, Flat, rate);
        var a = Math.Pow(10, decibels / 40);
        var root = 2 * Math.Sqrt(a) * alpha;
        cos *= side;
        return Over(
            a * (a + 1 - ((a - 1) * cos) + root), side * 2 * a * (a - 1 - ((a + 1) * cos)), a * (a + 1 - ((a - 1) * cos) - root),
            a + 1 + ((a - 1) * cos) + root, side * -2 * (a - 1 + ((a + 1) * cos)), a + 1 + ((a - 1) * cos) - root);
    }

    private static (double Cos, double Alpha) Corner(double hz, double q, double rate)
    {
        var omega = 2 * Math.PI * Math.Min(hz, rate * 0.49) / rate;
        return (Math.Cos(omega), Math.Sin(omega) / (2 * q));
    }

    private static Biquad Over(double b0, double b1, double b2, double a0, double a1, double a2) => new(b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0);
}
