using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Clips;

/// <summary>Arithmetic of automation in dB.</summary>
public static class CurveMath
{
    /// <summary>Below this a level is silence; also what a pan hard to the other side has.</summary>
    public const double SilentDb = -144;

    // Below this how a level gets there is not heard.
    private const double FaintDb = -60;

    /// <summary>The sum of two curves: a point wherever either has one, so that it is theirs on every sample.</summary>
    public static Automation? Sum(Automation? a, Automation? b)
    {
        if (a is null || b is null)
        {
            return a ?? b;
        }

        if (a.Interpolation != b.Interpolation)
        {
            (a, b) = (Straight(a), Straight(b));
        }

        return new Automation(
            a.Points.Concat(b.Points).Select(p => p.Sample).Distinct().Order().Select(s => new AutomationPoint(s, a.ValueAt(s) + b.ValueAt(s))).ToValueArray(), a.Interpolation);
    }

    /// <summary>The same curve so many samples later; a curve that is not there stays so.</summary>
    public static Automation? Shifted(Automation? curve, long by) =>
        curve is null || by == 0 ? curve : curve with { Points = curve.Points.Select(p => p with { Sample = p.Sample + by }).ToValueArray() };

    /// <summary>The same curve so many dB higher; a curve that is not there stays so.</summary>
    public static Automation? Raised(Automation? curve, double by) =>
        curve is null || by == 0 ? curve : curve with { Points = curve.Points.Select(p => p with { Value = p.Value + by }).ToValueArray() };

    /// <summary>How far apart the same points lie in dB where they are joined straight in amplitude and straight in dB.</summary>
    public static double BendDb(Automation curve) =>
        Enumerable.Range(1, Math.Max(0, curve.Points.Count - 1)).Select(i => BendDb(curve.Points[i - 1].Value, curve.Points[i].Value)).DefaultIfEmpty(0).Max();

    /// <summary>The same of two levels in dB.</summary>
    public static double BendDb(double from, double to)
    {
        var (a, b) = (Math.Max(from, FaintDb), Math.Max(to, FaintDb));
        var (low, high) = (Decibels.ToRatio(a), Decibels.ToRatio(b));
        return Enumerable.Range(1, 31).Max(i => Math.Abs(Decibels.FromRatio(low + ((high - low) * i / 32)) - (a + ((b - a) * i / 32))));
    }

    /// <summary>Values below silence as silence.</summary>
    public static Automation? Floored(Automation? curve) =>
        curve is null || curve.Points.All(p => p.Value >= SilentDb) ? curve : curve with { Points = curve.Points.Select(p => p with { Value = Math.Max(SilentDb, p.Value) }).ToValueArray() };

    /// <summary>The levels of the left and right side at a place, of equal power: −3 dB each in the middle.</summary>
    public static (double Left, double Right) PanLevels(double pan)
    {
        var angle = (Math.Clamp(pan, -1, 1) + 1) * Math.PI / 4;
        return (Level(Math.Cos(angle)), Level(Math.Sin(angle)));
        static double Level(double ratio) => Math.Max(SilentDb, Math.Round(Decibels.FromRatio(ratio), 6));
    }

    // A step as two points a sample apart: the same on every sample.
    private static Automation Straight(Automation curve)
    {
        if (curve.Interpolation == Interpolation.Linear)
        {
            return curve;
        }

        var points = new List<AutomationPoint>();
        foreach (var point in curve.Points)
        {
            if (points.Count > 0 && points[^1].Sample < point.Sample - 1)
            {
                points.Add(new AutomationPoint(point.Sample - 1, points[^1].Value));
            }

            points.Add(point);
        }

        return new Automation(points.ToValueArray());
    }
}
