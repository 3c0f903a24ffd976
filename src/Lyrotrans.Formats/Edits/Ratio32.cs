using System.Buffers.Binary;
using System.Numerics;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A rational of the file: two 32-bit numbers.</summary>
internal readonly record struct Ratio32(int Numerator, int Denominator)
{
    private const double Most = int.MaxValue;

    /// <summary>A gain in dB as a multiplier, within a millionth of a dB; from −144 dB down it is zero.</summary>
    public static Ratio32 OfDecibels(double decibels) => decibels <= -144 ? new(0, 1) : Of(Decibels.ToRatio(decibels));

    /// <summary>The ratio nearest to a number from 0 to 2³¹: as many digits as fit, so within 3·10⁻¹⁰ of it.</summary>
    public static Ratio32 Of(double value)
    {
        if (value <= 1 / Most)
        {
            return new(0, 1);
        }

        if (value == Math.Floor(value * (1 << 24)) / (1 << 24) && value < 64)
        {
            var whole = new Rational((BigInteger)(value * (1 << 24)), 1 << 24);
            return new((int)whole.Numerator, (int)whole.Denominator);
        }

        if (value >= 1)
        {
            var denominator = Math.Max(1, Math.Floor(Most / value));
            return new((int)Math.Min(Most, Math.Round(value * denominator)), (int)denominator);
        }

        var numerator = Math.Max(1, Math.Floor(value * Most));
        return new((int)numerator, (int)Math.Min(Most, Math.Round(numerator / value)));
    }

    /// <summary>A ratio of whole numbers, exact where it fits and else the nearest that does.</summary>
    public static Ratio32 Of(Rational value)
    {
        if (BigInteger.Abs(value.Numerator) <= int.MaxValue && value.Denominator <= int.MaxValue)
        {
            return new((int)value.Numerator, (int)value.Denominator);
        }

        // Convergents of the continued fraction, while both of their parts fit.
        var sign = value.Sign;
        var (n, d) = (BigInteger.Abs(value.Numerator), value.Denominator);
        var (p0, q0, p1, q1) = (BigInteger.Zero, BigInteger.One, BigInteger.One, BigInteger.Zero);
        while (!d.IsZero)
        {
            var whole = BigInteger.DivRem(n, d, out var rest);
            var (p, q) = ((whole * p1) + p0, (whole * q1) + q0);
            if (p > int.MaxValue || q > int.MaxValue)
            {
                break;
            }

            (p0, q0, p1, q1, n, d) = (p1, q1, p, q, d, rest);
        }

        return q1.IsZero ? new(sign * int.MaxValue, 1) : new(sign * (int)p1, (int)q1);
    }

    public byte[] Bytes()
    {
        var bytes = new byte[8];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, Numerator);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), Denominator);
        return bytes;
    }
}
