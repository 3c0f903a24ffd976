using System.Buffers.Binary;
using System.Runtime.CompilerServices;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Pcm;

/// <summary>
/// Doubles to bytes of interleaved samples. Integers are rounded to nearest, ties to even, and held at full scale; with dither, noise is added first. Its samples depend
/// on the seed and on their number alone, so that the same print gives the same bytes.
/// </summary>
public sealed class PcmEncoder(SampleEncoding encoding, Dither dither = default, bool bigEndian = false)
{
    private readonly double _full = 1L << (encoding.Bits() - 1);
    private TriangularNoise[] _noise = [];
    private ShapedError[] _errors = [];

    /// <summary>Samples that were above full scale and were held there.</summary>
    public long Overs { get; private set; }

    /// <summary>The largest error in steps of the last bit.</summary>
    public static double MostSteps(DitherNoise noise) => noise switch
    {
        DitherNoise.Flat => 1.5,
        DitherNoise.Shaped => 1.5 * ShapedError.Most,
        _ => 0.5,
    };

    /// <summary>Writes <paramref name="count"/> frames and returns the bytes used.</summary>
    public int Encode(double[][] samples, int channels, int count, Span<byte> into)
    {
        var size = encoding.Bytes();
        Grow(channels);
        for (var c = 0; c < channels && count > 0; c++)
        {
            Channel(samples[c].AsSpan(0, count), c, into[(c * size)..], size * channels);
        }

        return count * channels * size;
    }

    /// <summary>Integer samples of all channels, left-justified in 32 bits, interleaved, as codec libraries take them.</summary>
    public void LeftJustified(double[][] samples, int channels, int count, Span<int> into)
    {
        Grow(channels);
        var shift = 32 - encoding.Bits();
        for (var c = 0; c < channels; c++)
        {
            for (int i = 0, at = c; i < count; i++, at += channels)
            {
                into[at] = (int)Integer(samples[c][i], c) << shift;
            }
        }
    }

    private void Channel(ReadOnlySpan<double> samples, int channel, Span<byte> into, int stride)
    {
        if (encoding == SampleEncoding.Integer24 && !bigEndian)
        {
            Channel24(samples, channel, into, stride);
            return;
        }

        for (int i = 0, at = 0; i < samples.Length; i++, at += stride)
        {
            Put(samples[i], channel, into[at..]);
        }
    }

    private void Channel24(ReadOnlySpan<double> samples, int channel, Span<byte> into, int stride)
    {
        for (int i = 0, at = 0; i < samples.Length; i++, at += stride)
        {
            var value = (int)Integer(samples[i], channel);
            into[at + 2] = (byte)(value >> 16);
            into[at + 1] = (byte)(value >> 8);
            into[at] = (byte)value;
        }
    }

    private void Put(double value, int channel, Span<byte> into)
    {
        switch (encoding)
        {
            case SampleEncoding.Float32 when bigEndian:
                BinaryPrimitives.WriteSingleBigEndian(into, (float)value);
                break;
            case SampleEncoding.Float32:
                BinaryPrimitives.WriteSingleLittleEndian(into, (float)value);
                break;
            case SampleEncoding.Float64 when bigEndian:
                BinaryPrimitives.WriteDoubleBigEndian(into, value);
                break;
            case SampleEncoding.Float64:
                BinaryPrimitives.WriteDoubleLittleEndian(into, value);
                break;
            case SampleEncoding.Unsigned8:
                into[0] = (byte)(Integer(value, channel) + 128);
                break;
            default:
                Bytes(Integer(value, channel), into);
                break;
        }
    }

    private void Bytes(long value, Span<byte> into)
    {
        var size = encoding.Bytes();
        for (var b = 0; b < size; b++)
        {
            into[bigEndian ? size - 1 - b : b] = (byte)(value >> (8 * b));
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private long Integer(double value, int channel)
    {
        var scaled = value * _full;
        if (dither.Noise != DitherNoise.None)
        {
            return Dithered(scaled, channel);
        }

        return Held(Math.Round(scaled, MidpointRounding.ToEven));
    }

    private long Dithered(double scaled, int channel)
    {
        if (dither.Noise == DitherNoise.Flat)
        {
            return Held(Math.Round(scaled + _noise[channel].Next(), MidpointRounding.ToEven));
        }

        var wanted = _errors[channel].Wanted(scaled);
        var rounded = Math.Round(wanted + _noise[channel].Next(), MidpointRounding.ToEven);
        _errors[channel].Keep(rounded - wanted);
        return Held(rounded);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private long Held(double rounded)
    {
        if (rounded >= -_full && rounded < _full)
        {
            return (long)rounded;
        }

        Overs++;
        return rounded < 0 ? -(long)_full : (long)_full - 1;
    }

    private void Grow(int channels)
    {
        if (dither.Noise != DitherNoise.None && _noise.Length < channels)
        {
            _noise = [.. Enumerable.Range(0, channels).Select(c => new TriangularNoise(dither.SeedOf(c)))];
            _errors = new ShapedError[channels];
        }
    }
}
