using System.Buffers.Binary;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Pcm;

/// <summary>
/// Doubles to bytes of interleaved little-endian samples. Integers are rounded to nearest, ties to even, and held at full
/// scale; with dither, triangular noise of ±1 step (TPDF) is added first, from a fixed seed, so that the same print gives
/// the same bytes.
/// </summary>
public sealed class PcmEncoder(SampleEncoding encoding, bool dither)
{
    private ulong _noise = 0x9E3779B97F4A7C15;

    /// <summary>Samples that were above full scale and were held there.</summary>
    public long Overs { get; private set; }

    /// <summary>Writes <paramref name="count"/> frames and returns the bytes used.</summary>
    public int Encode(double[][] samples, int channels, int count, Span<byte> into)
    {
        var size = encoding.Bytes();
        var at = 0;
        for (var i = 0; i < count; i++)
        {
            for (var c = 0; c < channels; c++, at += size)
            {
                Put(samples[c][i], into[at..]);
            }
        }

        return at;
    }

    /// <summary>One integer sample, left-justified in 32 bits, as codec libraries take them.</summary>
    public int LeftJustified(double value) => (int)(Integer(value) << (32 - encoding.Bits()));

    private void Put(double value, Span<byte> into)
    {
        switch (encoding)
        {
            case SampleEncoding.Float32:
                BinaryPrimitives.WriteSingleLittleEndian(into, (float)value);
                break;
            case SampleEncoding.Float64:
                BinaryPrimitives.WriteDoubleLittleEndian(into, value);
                break;
            case SampleEncoding.Unsigned8:
                into[0] = (byte)(Integer(value) + 128);
                break;
            case SampleEncoding.Signed8:
                into[0] = (byte)Integer(value);
                break;
            case SampleEncoding.Integer16:
                BinaryPrimitives.WriteInt16LittleEndian(into, (short)Integer(value));
                break;
            case SampleEncoding.Integer24:
                var three = Integer(value);
                into[0] = (byte)three;
                into[1] = (byte)(three >> 8);
                into[2] = (byte)(three >> 16);
                break;
            default:
                BinaryPrimitives.WriteInt32LittleEndian(into, (int)Integer(value));
                break;
        }
    }

    private long Integer(double value)
    {
        var full = 1L << (encoding.Bits() - 1);
        var scaled = value * full;
        if (dither)
        {
            scaled += Uniform() - Uniform();
        }

        var rounded = Math.Round(scaled, MidpointRounding.ToEven);
        if (rounded >= -full && rounded < full)
        {
            return (long)rounded;
        }

        Overs++;
        return rounded < 0 ? -full : full - 1;
    }

    private double Uniform()
    {
        _noise ^= _noise << 13;
        _noise ^= _noise >> 7;
        _noise ^= _noise << 17;
        return (_noise >> 11) * (1.0 / (1UL << 53));
    }
}
