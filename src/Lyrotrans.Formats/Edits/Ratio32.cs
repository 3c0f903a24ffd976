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
        var near = value.Within(int.MaxValue);
        return new((int)near.Numerator, (int)near.Denominator);
    }

    public byte[] Bytes()
    {
        var bytes = new byte[8];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, Numerator);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), Denominator);
        return bytes;
    }
}
