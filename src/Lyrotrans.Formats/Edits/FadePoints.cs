using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>The points of a sampled fade in the order of time.</summary>
internal static class FadePoints
{
    /// <param name="fade">A sampled one.</param>
    /// <param name="falls">From full to silent, which is the same read backwards.</param>
    public static IEnumerable<(Rational Place, double Gain)> Of(Fade fade, bool falls)
    {
        var last = fade.Curve.Count - 1;
        return Enumerable.Range(0, last + 1).Select(i => falls ? last - i : i).Select(i => (falls ? 1 - Place(fade, i, last) : Place(fade, i, last), fade.Curve[i]));
    }

    private static Rational Place(Fade fade, int i, int last) => fade.Places.Count > 0 ? Rational.FromDouble(fade.Places[i], 1L << 30) : new Rational(i, last);
}
