using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Clips;

/// <summary>Fade shapes made ones that a file of clips can say, with how far they are off.</summary>
public static class FadeMapping
{
    // Below this a difference is not heard, and shapes that reach silence in their own way differ without end.
    private const double FaintDb = -60;

    /// <summary>What transitions hold: linear, equal power, S and logarithmic by name, others by points.</summary>
    /// <returns>The fade, and how far it strays in dB where either is above −60 dB.</returns>
    public static (Fade Fade, double ErrorDb) ForTransition(Fade fade)
    {
        var mapped = fade.Shape switch
        {
            FadeShape.Exponential => FadeCurve.Of(fade),
            FadeShape.Sampled when fade.Curve is [0, 1] && fade.Places.Count == 0 => fade with { Shape = FadeShape.Linear, Curve = default },
            FadeShape.Sampled => fade with { Curve = fade.Curve.Select(FadeCurve.Rounded).ToValueArray(), Places = fade.Places.Select(FadeCurve.Rounded).ToValueArray() },
            _ => fade,
        };
        return (mapped, mapped.Shape == fade.Shape && fade.Shape != FadeShape.Sampled ? 0 : ErrorDb(fade, mapped));
    }

    /// <summary>What one level for both sides of a transition can say: by points from and to silence, and straight where two sounds cross.</summary>
    public static (Fade Fade, double ErrorDb) ForLevel(Fade fade, bool crosses)
    {
        var mapped = crosses || fade.Shape == FadeShape.Linear ? new Fade(fade.Length, FadeShape.Linear)
            : fade.Shape == FadeShape.Sampled ? ForTransition(fade).Fade
            : FadeCurve.Of(fade);
        return (mapped, fade.Shape == FadeShape.Linear ? 0 : ErrorDb(fade, mapped));
    }

    /// <summary>What a clip's own fade property holds: linear or equal power, whichever is nearer.</summary>
    public static (Fade Fade, double ErrorDb) ForProperty(Fade fade) => fade.Shape is FadeShape.Linear or FadeShape.EqualPower
        ? (fade, 0)
        : new[] { FadeShape.Linear, FadeShape.EqualPower }.Select(s => new Fade(fade.Length, s)).Select(f => (f, ErrorDb(fade, f))).MinBy(p => p.Item2);

    /// <summary>The largest difference of two shapes in dB, where either is above −60 dB.</summary>
    public static double ErrorDb(Fade meant, Fade taken) => Enumerable.Range(1, 999).Max(i => Math.Abs(Level(meant, i) - Level(taken, i)));

    private static double Level(Fade fade, int thousandth) => Math.Max(FaintDb, Decibels.FromRatio(fade.ShapeAt(thousandth / 1000.0)));
}
