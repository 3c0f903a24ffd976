using System.Buffers.Binary;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Pcm;

/// <summary>Bytes of interleaved samples to doubles, exactly.</summary>
public static class PcmDecoder
{
    /// <summary>Decodes whole frames into <c>into[channel]</c> from index <paramref name="at"/> on.</summary>
    public static void Decode(ReadOnlySpan<byte> bytes, SampleEncoding encoding, bool bigEndian, int channels, double[][] into, int at)
    {
        var size = encoding.Bytes();
        var stride = size * channels;
        var frames = bytes.Length / stride;
        for (var c = 0; c < channels && frames > 0; c++)
        {
            var output = into[c].AsSpan(at, frames);
            if (encoding == SampleEncoding.Integer24 && !bigEndian)
            {
                Decode24(bytes[(c * 3)..], stride, output);
                continue;
            }

            for (var i = 0; i < frames; i++)
            {
                output[i] = Sample(bytes.Slice((i * stride) + (c * size), size), encoding, bigEndian);
            }
        }
    }

    private static void Decode24(ReadOnlySpan<byte> bytes, int stride, Span<double> output)
    {
        for (int i = 0, p = 0; i < output.Length; i++, p += stride)
        {
            output[i] = ((bytes[p] << 8) | (bytes[p + 1] << 16) | (bytes[p + 2] << 24)) * (1.0 / 0x8000_0000);
        }
    }

    private static double Sample(ReadOnlySpan<byte> b, SampleEncoding encoding, bool big) => encoding switch
    {
        SampleEncoding.Unsigned8 => (b[0] - 128) / 128.0,
        SampleEncoding.Signed8 => (sbyte)b[0] / 128.0,
        SampleEncoding.Integer16 => (big ? BinaryPrimitives.ReadInt16BigEndian(b) : BinaryPrimitives.ReadInt16LittleEndian(b)) / 32768.0,
        SampleEncoding.Integer24 => (big ? (b[2] << 8) | (b[1] << 16) | (b[0] << 24) : (b[0] << 8) | (b[1] << 16) | (b[2] << 24)) / 2147483648.0,
        SampleEncoding.Integer32 => (big ? BinaryPrimitives.ReadInt32BigEndian(b) : BinaryPrimitives.ReadInt32LittleEndian(b)) / 2147483648.0,
        SampleEncoding.Float32 => Finite(big ? BinaryPrimitives.ReadSingleBigEndian(b) : BinaryPrimitives.ReadSingleLittleEndian(b)),
        _ => Finite(big ? BinaryPrimitives.ReadDoubleBigEndian(b) : BinaryPrimitives.ReadDoubleLittleEndian(b)),
    };

    // A float file may hold what is no number; it would poison every sum it enters.
    private static double Finite(double value) => double.IsFinite(value) ? value : 0;
}
