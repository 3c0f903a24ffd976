using System.Text.Json;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Otio;

/// <summary>A time of an OTIO document: so many units of a rate. Both are doubles in the file and exact here.</summary>
/// <param name="Value">In units.</param>
/// <param name="Rate">Units a second; greater than zero.</param>
/// <remarks>docs/formats/otio.md, section 2.</remarks>
internal readonly record struct OtioTime(Rational Value, Rational Rate)
{
    // A pulled-down rate is written with as many digits as its writer had.
    private const double PullTolerance = 1e-4;
    private const double Most = 1L << 53;

    // Three years, in seconds.
    private const double Farthest = 1e8;

    // A unit of more than a quarter of an hour is no unit.
    private const double SlowestRate = 0.001;

    public Rational Seconds => Value / Rate;

    /// <summary>A RationalTime; null where it is missing or makes no sense.</summary>
    public static OtioTime? Of(JsonElement element, string property)
    {
        if (OtioNode.Get(element, property) is not { ValueKind: JsonValueKind.Object } time
            || OtioNode.Number(time, "value") is not { } value || OtioNode.Number(time, "rate") is not { } rate || rate < SlowestRate || rate > Most || Math.Abs(value) > Most || Math.Abs(value) / rate > Farthest)
        {
            return null;
        }

        return new OtioTime(Exact(value), RateOf(rate));
    }

    /// <summary>The rate that a double means: a whole one, a pulled-down one, or just what it says.</summary>
    public static Rational RateOf(double rate)
    {
        if (rate == Math.Floor(rate))
        {
            return (long)rate;
        }

        var nominal = Math.Round(rate * 1001 / 1000);
        return Math.Abs((nominal * 1000 / 1001) - rate) < PullTolerance * Math.Max(1, rate / 1000) ? new Rational((long)nominal * 1000, 1001) : Exact(rate);
    }

    // A double is a whole number of some power of two.
    private static Rational Exact(double value)
    {
        long denominator = 1;
        while (value != Math.Floor(value) && denominator < 1L << 40 && Math.Abs(value) < Most / 2)
        {
            value *= 2;
            denominator *= 2;
        }

        return new Rational((long)Math.Round(value), denominator);
    }
}
