using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>
/// A fade of so many session samples. Sample i of a fade-in of n has the gain of its shape at (i + ½)/n; a fade-out is the
/// same read backwards, so that a linear crossfade sums to exactly 1 in amplitude and an equal-power one in power.
/// </summary>
/// <param name="Length">In samples; 0 is no fade.</param>
/// <param name="Curve">For <see cref="FadeShape.Sampled"/>: gains from the silent end to the full one, at least two.</param>
/// <param name="Places">Where these gains are, from 0 to 1, ascending, one for each; none is equal steps. Of two at one place the gain jumps.</param>
public sealed record Fade(long Length, FadeShape Shape = FadeShape.Linear, ValueArray<double> Curve = default, ValueArray<double> Places = default)
{
    /// <summary>No fade: full from the first sample.</summary>
    public static Fade None { get; } = new(0);

    // Fades that are exponential or logarithmic cover 60 dB.
    private const double Span = 6.907755278982137;

    /// <summary>Amplitude at sample <paramref name="index"/> counted from the silent end.</summary>
    public double GainAt(long index) => index < 0 ? 0 : index >= Length ? 1 : ShapeAt((index + 0.5) / Length);

    /// <summary>Amplitude at a place from 0 (silent) to 1 (full).</summary>
    public double ShapeAt(double x) => Shape switch
    {
        FadeShape.Linear => x,
        FadeShape.EqualPower => Math.Sin(x * Math.PI / 2),
        FadeShape.S => 0.5 - (0.5 * Math.Cos(x * Math.PI)),
        FadeShape.Exponential => (Math.Exp(Span * x) - 1) / (Math.Exp(Span) - 1),
        FadeShape.Logarithmic => 1 - ((Math.Exp(Span * (1 - x)) - 1) / (Math.Exp(Span) - 1)),
        _ => CurveAt(x),
    };

    private double CurveAt(double x)
    {
        if (Places.Count > 0)
        {
            return BetweenPlaces(x);
        }

        var place = Math.Clamp(x, 0, 1) * (Curve.Count - 1);
        var i = Math.Min((int)place, Curve.Count - 2);
        return Curve[i] + ((place - i) * (Curve[i + 1] - Curve[i]));
    }

    private double BetweenPlaces(double x)
    {
        var found = Places.AsSpan().BinarySearch(x);
        var i = Math.Clamp(found < 0 ? ~found - 1 : found, 0, Curve.Count - 2);
        var (from, to) = (Places[i], Places[i + 1]);
        return Curve[i] + ((to > from ? Math.Clamp((x - from) / (to - from), 0, 1) : 1) * (Curve[i + 1] - Curve[i]));
    }
}
