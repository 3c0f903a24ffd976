using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Time;

/// <summary>
/// Tempo over the whole piece. Quarter 0 is the first beat of bar 1; the first point's tempo reaches back before it and
/// the last one's goes on for ever. Seconds are counted from bar 1. Constant pieces are exact ratios; a ramp is closed
/// form, with its inner times taken to the nearest 2⁻⁵⁰ s. Both directions are monotone and inverse to each other.
/// </summary>
public sealed class TempoMap : IEquatable<TempoMap>
{
    private const long RampResolution = 1L << 50;
    private readonly Rational[] _secondsAtPoint;
    private readonly double[] _slopes;

    /// <param name="points">At least one, ascending, no two at one place.</param>
    /// <exception cref="ArgumentException">No points, not ascending, or a tempo not above zero.</exception>
    public TempoMap(ValueArray<TempoPoint> points)
    {
        if (points.Count == 0)
        {
            throw new ArgumentException("A tempo map needs at least one tempo.");
        }

        for (var i = 0; i < points.Count; i++)
        {
            if (points[i].QuartersPerMinute.Sign <= 0)
            {
                throw new ArgumentException($"Tempo {points[i].QuartersPerMinute} at quarter {points[i].Quarter} is not above zero.");
            }

            if (i > 0 && points[i].Quarter <= points[i - 1].Quarter)
            {
                throw new ArgumentException($"The tempo at quarter {points[i].Quarter} does not come after the one before it.");
            }
        }

        Points = points;
        _secondsAtPoint = new Rational[points.Count];
        _slopes = points.Select((_, i) => IsRamp(i) ? Slope(i) : 0).ToArray();
        for (var i = 1; i < points.Count; i++)
        {
            _secondsAtPoint[i] = _secondsAtPoint[i - 1] + SecondsWithin(i - 1, points[i].Quarter);
        }

        var toBar1 = SecondsAt(Rational.Zero);
        for (var i = 0; i < points.Count; i++)
        {
            _secondsAtPoint[i] -= toBar1;
        }
    }

    /// <summary>Ascending by quarter, at least one.</summary>
    public ValueArray<TempoPoint> Points { get; }

    /// <summary>One tempo all along, in quarters a minute.</summary>
    public static TempoMap Constant(Rational quartersPerMinute) => new([new TempoPoint(0, quartersPerMinute)]);

    /// <summary>Seconds from bar 1 to a place in quarters.</summary>
    public Rational SecondsAt(Rational quarter)
    {
        var i = PieceAt(quarter);
        return _secondsAtPoint[i] + SecondsWithin(i, quarter);
    }

    /// <summary>The place in quarters that lies so many seconds from bar 1.</summary>
    public Rational QuarterAt(Rational seconds)
    {
        var i = LastNotAfter(seconds, static (map, k) => map._secondsAtPoint[k]);
        var point = Points[i];
        var elapsed = seconds - _secondsAtPoint[i];
        if (elapsed.Sign < 0 || !IsRamp(i))
        {
            return point.Quarter + (elapsed * point.QuartersPerMinute / 60);
        }

        var slope = _slopes[i];
        var quarters = point.QuartersPerMinute.ToDouble() / slope * ExpLessOne(slope * elapsed.ToDouble() / 60);
        var found = point.Quarter + Rational.FromDouble(quarters, RampResolution);
        return found > Points[i + 1].Quarter ? Points[i + 1].Quarter : found;
    }

    /// <summary>The tempo in force at a place, in quarters a minute.</summary>
    public Rational TempoAt(Rational quarter)
    {
        var i = PieceAt(quarter);
        var point = Points[i];
        if (!IsRamp(i) || quarter <= point.Quarter)
        {
            return point.QuartersPerMinute;
        }

        var next = Points[i + 1];
        return point.QuartersPerMinute
            + ((next.QuartersPerMinute - point.QuartersPerMinute) * (quarter - point.Quarter) / (next.Quarter - point.Quarter));
    }

    /// <summary>Whether a place lies in a ramp.</summary>
    public bool MovesAt(Rational quarter)
    {
        var i = PieceAt(quarter);
        return IsRamp(i) && quarter >= Points[i].Quarter;
    }

    public bool Equals(TempoMap? other) => other is not null && Points.Equals(other.Points);

    public override bool Equals(object? obj) => Equals(obj as TempoMap);

    public override int GetHashCode() => Points.GetHashCode();

    private Rational SecondsWithin(int piece, Rational quarter)
    {
        var point = Points[piece];
        var quarters = quarter - point.Quarter;
        if (quarters.Sign <= 0 || !IsRamp(piece))
        {
            return quarters * 60 / point.QuartersPerMinute;
        }

        var slope = _slopes[piece];
        var seconds = 60 / slope * LogOnePlus(slope * quarters.ToDouble() / point.QuartersPerMinute.ToDouble());
        return Rational.FromDouble(seconds, RampResolution);
    }

    private bool IsRamp(int piece) => Points[piece].Ramp && piece + 1 < Points.Count
        && Points[piece + 1].QuartersPerMinute != Points[piece].QuartersPerMinute;

    /// <summary>Change of tempo per quarter.</summary>
    private double Slope(int piece) =>
        ((Points[piece + 1].QuartersPerMinute - Points[piece].QuartersPerMinute)
            / (Points[piece + 1].Quarter - Points[piece].Quarter)).ToDouble();

    private int PieceAt(Rational quarter) => LastNotAfter(quarter, static (map, k) => map.Points[k].Quarter);

    private int LastNotAfter(Rational value, Func<TempoMap, int, Rational> at)
    {
        var low = 0;
        var high = Points.Count - 1;
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            if (at(this, middle) <= value)
            {
                low = middle;
            }
            else
            {
                high = middle - 1;
            }
        }

        return low;
    }

    // log(1+x) and e^x−1 without the loss of digits near zero.
    private static double LogOnePlus(double x)
    {
        var u = 1 + x;
        return u == 1 ? x : Math.Log(u) * x / (u - 1);
    }

    private static double ExpLessOne(double x)
    {
        var u = Math.Exp(x);
        return u == 1 ? x : u == 0 ? -1 : (u - 1) * x / Math.Log(u);
    }
}
