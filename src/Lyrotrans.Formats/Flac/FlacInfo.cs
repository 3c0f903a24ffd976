using System.Buffers.Binary;
using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Flac;

/// <summary>What the first block of a FLAC file says of its sound.</summary>
/// <param name="Bits">Of a sample, 4 to 32.</param>
/// <param name="Channels">1 to 8.</param>
/// <param name="Frames">Sample frames; 0 where it is not said.</param>
/// <param name="Md5">Of all samples, interleaved, in whole bytes, the lowest first; empty where it is not said.</param>
/// <remarks>docs/formats/sound.md, section 7.</remarks>
public sealed record FlacInfo(int Bits, int Channels, long Frames, ValueArray<byte> Md5)
{
    private const int HeadBytes = 4 + 4 + 34;

    /// <summary>Reads it; null where the file does not begin with such a block.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    public static FlacInfo? Read(Stream stream)
    {
        Span<byte> head = stackalloc byte[HeadBytes];
        stream.Position = 0;
        if (stream.ReadAtLeast(head, HeadBytes, throwOnEndOfStream: false) < HeadBytes || !head.StartsWith("fLaC"u8) || (head[4] & 0x7F) != 0)
        {
            return null;
        }

        // Rate 20 bits, channels less one 3, bits less one 5, frames 36.
        var packed = BinaryPrimitives.ReadUInt64BigEndian(head[18..]);
        var md5 = head[26..];
        return new FlacInfo(
            (int)((packed >> 36) & 0x1F) + 1, (int)((packed >> 41) & 0x7) + 1, (long)(packed & 0xFFFFFFFFF), md5.ContainsAnyExcept((byte)0) ? ValueArray.Create<byte>(md5) : []);
    }
}
