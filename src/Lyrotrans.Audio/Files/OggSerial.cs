using System.Buffers.Binary;

namespace Lyrotrans.Audio.Files;

/// <summary>Gives the stream in an Ogg file a number that is always the same, where the library takes a random one (RFC 3533, 6).</summary>
public static class OggSerial
{
    private const int HeadBytes = 27;
    private const uint Serial = 0x4C59524F;
    private static readonly uint[] s_table = Enumerable.Range(0, 256).Select(i => Enumerable.Range(0, 8).Aggregate((uint)i << 24, (r, _) => (r & 0x8000_0000) != 0 ? (r << 1) ^ 0x04C1_1DB7 : r << 1)).ToArray();

    /// <summary>Rewrites every page of a file with one stream.</summary>
    public static void Settle(string path)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.ReadWrite);
        var page = new byte[HeadBytes + 255 + (255 * 255)];
        for (long at = 0; at + HeadBytes <= file.Length;)
        {
            file.Position = at;
            file.ReadExactly(page, 0, HeadBytes);
            int segments = page[26];
            file.ReadExactly(page, HeadBytes, segments);
            var body = 0;
            for (var i = 0; i < segments; i++)
            {
                body += page[HeadBytes + i];
            }

            var length = HeadBytes + segments + body;
            file.ReadExactly(page, HeadBytes + segments, body);
            BinaryPrimitives.WriteUInt32LittleEndian(page.AsSpan(14), Serial);
            BinaryPrimitives.WriteUInt32LittleEndian(page.AsSpan(22), 0);
            BinaryPrimitives.WriteUInt32LittleEndian(page.AsSpan(22), Checksum(page.AsSpan(0, length)));
            file.Position = at;
            file.Write(page, 0, length);
            at += length;
        }
    }

    private static uint Checksum(ReadOnlySpan<byte> page)
    {
        var sum = 0u;
        foreach (var b in page)
        {
            sum = (sum << 8) ^ s_table[(sum >> 24) ^ b];
        }

        return sum;
    }
}
