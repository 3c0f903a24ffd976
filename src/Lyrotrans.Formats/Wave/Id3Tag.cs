using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Wave;

/// <summary>The texts of an ID3v2 tag in a chunk of a WAVE or AIFF file.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
internal static class Id3Tag
{
    /// <summary>Quarters a minute, whole.</summary>
    public const string Tempo = "TBPM";

    /// <summary>Such as <c>Dm</c>.</summary>
    public const string Key = "TKEY";

    /// <summary>Of the tag's head, and of a frame's.</summary>
    public const int HeadBytes = 10;

    private const int MostBytes = 1 << 28;

    /// <summary>A tag of version 2.3 with these frames, in Latin-1.</summary>
    public static byte[] Write(ValueArray<KeyValuePair<string, string>> frames)
    {
        var body = Frames(frames);
        return [.. "ID3"u8, 3, 0, 0, .. Syncsafe(body.Length), .. body];
    }

    /// <summary>A tag with frames before its own; a new one where there is none, or it is of a version that these frames are not of.</summary>
    public static byte[] With(byte[]? tag, ValueArray<KeyValuePair<string, string>> frames)
    {
        // Frames of the fourth version have another form of sizes, which is the same for short ones; what stands before frames stays there.
        if (tag is null || tag[3] is not (3 or 4) || (tag[5] & 0x40) != 0)
        {
            return [.. Write(frames), .. tag ?? []];
        }

        var more = Frames(frames);
        return [.. tag.AsSpan(0, 6), .. Syncsafe(tag.Length - HeadBytes + more.Length), .. more, .. tag.AsSpan(HeadBytes)];
    }

    /// <summary>How many bytes the tag has that begins with a head; null where it is none.</summary>
    public static int? LengthOf(byte[] head) => head.AsSpan().StartsWith("ID3"u8) ? HeadBytes + Size(head, 6, syncsafe: true) : null;

    private static byte[] Syncsafe(int size) => [(byte)((size >> 21) & 0x7F), (byte)((size >> 14) & 0x7F), (byte)((size >> 7) & 0x7F), (byte)(size & 0x7F)];

    private static byte[] Frames(ValueArray<KeyValuePair<string, string>> frames)
    {
        using var bytes = new MemoryStream();
        foreach (var (id, text) in frames)
        {
            // Name, size, two bytes of flags, and the byte that says Latin-1.
            var value = Encoding.Latin1.GetBytes(text);
            var head = new byte[HeadBytes + 1];
            Encoding.Latin1.GetBytes(id, head);
            BinaryPrimitives.WriteUInt32BigEndian(head.AsSpan(4), (uint)value.Length + 1);
            bytes.Write(head);
            bytes.Write(value);
        }

        return bytes.ToArray();
    }

    /// <summary>Tempo and key of a tag of version 2.3 or 2.4; nothing of any other, and nothing past what is damaged.</summary>
    public static IEnumerable<KeyValuePair<string, string>> Read(byte[] tag)
    {
        if (tag.Length < HeadBytes || !tag.AsSpan().StartsWith("ID3"u8) || tag[3] is not (3 or 4))
        {
            yield break;
        }

        var syncsafe = tag[3] == 4;
        var end = Math.Min(tag.Length, HeadBytes + Size(tag, 6, syncsafe: true));
        var at = HeadBytes + ((tag[5] & 0x40) == 0 || tag.Length < HeadBytes + 4 ? 0 : Size(tag, HeadBytes, syncsafe) + (syncsafe ? 0 : 4));
        while (at + HeadBytes < end && tag[at] != 0)
        {
            var (id, size) = (Encoding.Latin1.GetString(tag, at, 4), Size(tag, at + 4, syncsafe));
            at += HeadBytes;
            if (size < 1 || size > end - at)
            {
                yield break;
            }

            if (id is Tempo or Key)
            {
                yield return new(id, Text(tag.AsSpan(at, size)));
            }

            at += size;
        }
    }

    private static int Size(byte[] tag, int at, bool syncsafe)
    {
        var plain = BinaryPrimitives.ReadUInt32BigEndian(tag.AsSpan(at));
        var size = syncsafe ? ((plain >> 3) & 0xFE0_0000) | ((plain >> 2) & 0x1F_C000) | ((plain >> 1) & 0x3F80) | (plain & 0x7F) : plain;
        return (int)Math.Min(size, MostBytes);
    }

    // Latin-1, UTF-16 with its mark, UTF-16 big-endian, UTF-8.
    private static string Text(ReadOnlySpan<byte> body)
    {
        var text = body[1..];
        var decoded = body[0] switch
        {
            1 when text.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]) => Encoding.Unicode.GetString(text[2..]),
            1 when text.Length >= 2 => Encoding.BigEndianUnicode.GetString(text[2..]),
            2 => Encoding.BigEndianUnicode.GetString(text),
            3 => Encoding.UTF8.GetString(text),
            _ => Encoding.Latin1.GetString(text),
        };
        return decoded.Split('\0')[0].Trim();
    }
}
