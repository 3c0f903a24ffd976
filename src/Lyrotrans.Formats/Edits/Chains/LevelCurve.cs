using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>Fades that a format says by the points of a level over the length of a transition.</summary>
internal static class LevelCurve
{
    private const int Steps = 64;

    /// <param name="points">Times from 0 to 1.</param>
    /// <param name="length">Of the transition, in samples.</param>
    /// <param name="shape">Of a level that goes straight from nothing to all.</param>
    /// <param name="falls">The level is that of what goes out.</param>
    /// <param name="findings">Gets what gave way.</param>
    public static EditFade Fade(List<(Rational Time, double Value)> points, Rational length, FadeShape shape, bool falls, FindingList findings)
    {
        points = [.. points.Select(p => (Time: Rational.Zero < p.Time ? p.Time < 1 ? p.Time : 1 : 0, p.Value))];
        if (falls)
        {
            points = [.. points.AsEnumerable().Reverse().Select(p => (1 - p.Time, p.Value))];
        }

        return points is [] or [(_, _)] || (points is [var (from, low), var (to, high)] && from == 0 && to == 1 && low == 0 && high == 1)
            ? new EditFade(length, shape)
            : new EditFade(length, FadeShape.Sampled, Sampled(points, findings));
    }

    /// <summary>Of one level for both sides: what comes in, and what is left of what goes out.</summary>
    public static (EditFade Out, EditFade In) Mix(EditFade level) =>
        level.Shape == FadeShape.Sampled ? (level with { Curve = level.Curve.Reverse().Select(v => 1 - v).ToValueArray() }, level) : (level, level);

    private static ValueArray<double> Sampled(List<(Rational Time, double Value)> points, FindingList findings)
    {
        var last = points.Count - 1;
        if (points.Select((p, i) => p.Time == new Rational(i, last)).All(even => even))
        {
            return points.Select(p => Math.Clamp(p.Value, 0, 1)).ToValueArray();
        }

        findings.Add(EditCodes.FadeSteps, string.Empty, $"A fade's points do not lie at equal steps; {Steps} equal ones were taken from its curve.");
        var curve = new double[Steps + 1];
        for (var (i, at) = (0, 0); i <= Steps; i++)
        {
            var x = (double)i / Steps;
            while (at < last - 1 && points[at + 1].Time.ToDouble() < x)
            {
                at++;
            }

            var (from, to) = (points[at].Time.ToDouble(), points[at + 1].Time.ToDouble());
            var part = to > from ? Math.Clamp((x - from) / (to - from), 0, 1) : 1;
            curve[i] = Math.Clamp(points[at].Value + ((points[at + 1].Value - points[at].Value) * part), 0, 1);
        }

        return curve.ToValueArray();
    }
}
