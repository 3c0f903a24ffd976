using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>Fades that a format says by the points of a level over the length of a transition.</summary>
internal static class LevelCurve
{
    /// <param name="points">Times from 0 to 1.</param>
    /// <param name="length">Of the transition, in samples.</param>
    /// <param name="shape">Of a level that goes straight from nothing to all.</param>
    /// <param name="falls">The level is that of what goes out.</param>
    /// <param name="findings">Gets what gave way.</param>
    public static EditFade Fade(List<(Rational Time, double Value)> points, Rational length, FadeShape shape, bool falls, FindingList findings)
    {
        var said = points.Count;
        points = Ascending(points);
        if (points.Count < said)
        {
            findings.Add(EditCodes.FadePoints, string.Empty, $"{Phrases.Count(said - points.Count, "point")} of a fade {(said - points.Count == 1 ? "goes" : "go")} back in time; left out.");
        }

        if (falls)
        {
            points = [.. points.AsEnumerable().Reverse().Select(p => (1 - p.Time, p.Value))];
        }

        return points is [] or [(_, _)] || (points is [var (from, low), var (to, high)] && from == 0 && to == 1 && low == 0 && high == 1)
            ? new EditFade(length, shape)
            : Sampled(points, length);
    }

    /// <summary>Of one level for both sides: what comes in, and what is left of what goes out.</summary>
    public static (EditFade Out, EditFade In) Mix(EditFade level) =>
        level.Shape == FadeShape.Sampled ? (level with { Curve = level.Curve.Reverse().Select(v => 1 - v).ToValueArray(), Places = level.Places.Reverse().Select(p => 1 - p).ToValueArray() }, level) : (level, level);

    private static EditFade Sampled(List<(Rational Time, double Value)> points, Rational length)
    {
        var last = points.Count - 1;
        var even = points.Select((p, i) => p.Time == new Rational(i, last)).All(same => same);
        return new EditFade(length, FadeShape.Sampled, points.Select(p => Math.Clamp(p.Value, 0, 1)).ToValueArray(), even ? default : points.Select(p => p.Time.ToDouble()).ToValueArray());
    }

    private static List<(Rational Time, double Value)> Ascending(List<(Rational Time, double Value)> points)
    {
        var kept = new List<(Rational Time, double Value)>();
        foreach (var (time, value) in points)
        {
            var held = Rational.Zero < time ? time < 1 ? time : 1 : 0;
            if (kept.Count == 0 || held >= kept[^1].Time)
            {
                kept.Add((held, value));
            }
        }

        return kept;
    }
}
