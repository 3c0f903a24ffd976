using System.Globalization;
using Lyrotrans.Core.Arriving;

namespace Lyrotrans.Web.Links;

/// <summary>Every clip that was sent along the session, as strokes: on the line where it was found at its place, off it where it was not. Where many lie in one column, the worst is seen.</summary>
/// <param name="Class">What it is: <c>there</c>, <c>off</c> or <c>gone</c>.</param>
/// <param name="Path">Of SVG.</param>
public sealed record ArrivalLine(string Class, string Path)
{
    public const int Width = 480;
    public const int Height = 60;
    public const int Middle = 30;

    // A second and more is as far as it goes.
    private const double Farthest = 48_000;
    private static readonly string[] s_kinds = ["there", "off", "gone"];

    /// <summary>What differs lies over what does not.</summary>
    public static IReadOnlyList<ArrivalLine> Of(ArrivalReport report)
    {
        if (report.Dots.Select(d => d.Start).Distinct().Take(2).Count() < 2)
        {
            // All begin at one place: there is no line to see.
            return [];
        }

        var end = Math.Max(1, report.Dots.Select(d => d.Start).DefaultIfEmpty(0).Max());
        var columns = report.Dots.GroupBy(d => (int)(Math.Clamp((double)d.Start / end, 0, 1) * (Width - 2)) + 1).Select(g => (X: g.Key, Worst: g.MaxBy(d => d.Offset is { } off ? Math.Abs((double)off) + (d.Slipped ? 1 : 0) : double.MaxValue)!)).ToList();
        return [.. s_kinds.Select(kind => new ArrivalLine(kind, string.Concat(columns.Where(c => KindOf(c.Worst) == kind).Select(c => Stroke(c.X, c.Worst))))).Where(l => l.Path.Length > 0)];
    }

    private static string KindOf(ArrivalDot dot) => dot.Offset is null ? "gone" : dot.Offset == 0 && !dot.Slipped ? "there" : "off";

    private static string Stroke(int x, ArrivalDot dot)
    {
        // By its logarithm: a sample is seen as well as a second.
        var far = dot.Offset is { } off and not 0 ? Math.Sign(off) * (4 + (20 * Math.Min(1, Math.Log(1 + Math.Abs((double)off)) / Math.Log(1 + Farthest)))) : 0;
        return dot.Offset is null ? string.Create(CultureInfo.InvariantCulture, $"M{x} 4V{Height - 4}")
            : string.Create(CultureInfo.InvariantCulture, $"M{x} {Middle - far - 4:0.#}V{Middle - far + 4:0.#}");
    }
}
