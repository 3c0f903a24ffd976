using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.Wave;

/// <summary>Writes the head of an AIFF 1.3 file whose length is known, up to the first sample. Integer samples, big-endian.</summary>
/// <remarks>docs/formats/sound.md, section 6.</remarks>
public static class AiffWriter
{
    private const int CommonBytes = 18;
    private const int FormBytes = 12 + 8 + CommonBytes;
    private const int SoundHeadBytes = 16;

    /// <summary>All bytes before the samples. After the samples a zero byte follows when their size is odd.</summary>
    /// <param name="layout">Its data offset is not looked at.</param>
    /// <param name="tags">Texts of an ID3v2 tag by their four letters.</param>
    /// <exception cref="ArgumentException">Float, or longer than the form's 32-bit sizes hold.</exception>
    public static byte[] Head(PcmLayout layout, ValueArray<KeyValuePair<string, string>> tags = default)
    {
        var data = layout.DataBytes + (layout.DataBytes & 1);
        var tag = tags.Count > 0 ? Id3Tag.Write(tags) : [];
        var tagBytes = tag.Length > 0 ? 8 + tag.Length + (tag.Length & 1) : 0;
        var headBytes = FormBytes + tagBytes + SoundHeadBytes;
        if (layout.Encoding.IsFloat() || headBytes + data > uint.MaxValue)
        {
            throw new ArgumentException($"AIFF holds integer samples up to 4 GiB, not {layout.Encoding.Words()}, {data} bytes.", nameof(layout));
        }

        var head = new byte[headBytes];
        Four(0, "FORM");
        UInt32(4, (uint)(headBytes - 8 + data));
        Four(8, "AIFF");
        Four(12, "COMM");
        UInt32(16, CommonBytes);
        BinaryPrimitives.WriteUInt16BigEndian(head.AsSpan(20), (ushort)layout.Channels);
        UInt32(22, (uint)layout.Frames);
        BinaryPrimitives.WriteUInt16BigEndian(head.AsSpan(26), (ushort)layout.Encoding.Bits());
        Extended80(layout.Rate.PerSecond.ToDouble(), head.AsSpan(28));
        if (tagBytes > 0)
        {
            Four(FormBytes, "ID3 ");
            UInt32(FormBytes + 4, (uint)tag.Length);
            tag.CopyTo(head, FormBytes + 8);
        }

        Four(FormBytes + tagBytes, "SSND");
        UInt32(FormBytes + tagBytes + 4, (uint)(8 + layout.DataBytes));
        return head;
        void Four(int at, string id) => Encoding.Latin1.GetBytes(id, head.AsSpan(at));
        void UInt32(int at, uint value) => BinaryPrimitives.WriteUInt32BigEndian(head.AsSpan(at), value);
    }

    // IEEE 754 80-bit extended: sign and 15-bit exponent, then a 64-bit mantissa with its leading 1 written out.
    private static void Extended80(double value, Span<byte> into)
    {
        var exponent = Math.ILogB(value);
        BinaryPrimitives.WriteUInt16BigEndian(into, (ushort)(exponent + 16383));
        BinaryPrimitives.WriteUInt64BigEndian(into[2..], (ulong)Math.ScaleB(value, 63 - exponent));
    }
}
