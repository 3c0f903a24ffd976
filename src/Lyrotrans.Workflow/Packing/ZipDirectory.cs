using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Workflow.Packing;

/// <summary>The directory of a zip file (APPNOTE 6.3), and where the bytes of its entries lie.</summary>
public static class ZipDirectory
{
    private const int EndingBytes = 22;
    private const int LongestComment = 65_535;
    private const int LongestDirectory = 256 << 20;

    /// <summary>Every entry, in the order of the directory; empty where there is no directory that can be read.</summary>
    public static IReadOnlyList<ZipPlace> Of(Stream zip)
    {
        var places = new List<ZipPlace>();
        if (Directory(zip) is not { } directory)
        {
            return places;
        }

        for (var at = 0; at + 46 <= directory.Length && UInt32(directory, at) == 0x02014B50;)
        {
            int name = UInt16(directory, at + 28), extra = UInt16(directory, at + 30), comment = UInt16(directory, at + 32);
            if (at + 46 + name + extra > directory.Length)
            {
                break;
            }

            var (packed, size, offset) = Sizes(directory.AsSpan(at, 46), directory.AsSpan(at + 46 + name, extra));
            places.Add(new ZipPlace(Encoding.UTF8.GetString(directory, at + 46, name), UInt16(directory, at + 10), offset, Data(zip, offset, packed), packed, size));
            at += 46 + name + extra + comment;
        }

        return places;
    }

    /// <summary>Place and length of the bytes of every stored entry, by its path, so that they can be read in place. What is not found whole is left out; it is then read as any other entry.</summary>
    public static IReadOnlyDictionary<string, (long Offset, long Length)> Stored(Stream zip) => Of(zip)
        .Where(p => p is { Method: 0, Data: not null } && p.Size == p.Packed).DistinctBy(p => p.Path).ToDictionary(p => p.Path, p => (p.Data!.Value, p.Size));

    private static byte[]? Directory(Stream zip)
    {
        var tail = new byte[(int)Math.Min(zip.Length, EndingBytes + LongestComment)];
        Read(zip, zip.Length - tail.Length, tail);
        for (var at = tail.Length - EndingBytes; at >= 0; at--)
        {
            if (UInt32(tail, at) != 0x06054B50)
            {
                continue;
            }

            long size = UInt32(tail, at + 12), offset = UInt32(tail, at + 16);
            if ((size == uint.MaxValue || offset == uint.MaxValue) && at >= 20 && UInt32(tail, at - 20) == 0x07064B50)
            {
                var large = new byte[56];
                if (!Read(zip, BinaryPrimitives.ReadInt64LittleEndian(tail.AsSpan(at - 12)), large))
                {
                    return null;
                }

                size = BinaryPrimitives.ReadInt64LittleEndian(large.AsSpan(40));
                offset = BinaryPrimitives.ReadInt64LittleEndian(large.AsSpan(48));
            }

            if (size is < 0 or > LongestDirectory)
            {
                return null;
            }

            var directory = new byte[size];
            return Read(zip, offset, directory) ? directory : null;
        }

        return null;
    }

    // Sizes and place, from the zip64 part where 32 bits did not reach: there, in this order, those that did not.
    private static (long Packed, long Size, long Offset) Sizes(ReadOnlySpan<byte> record, ReadOnlySpan<byte> extra)
    {
        long packed = BinaryPrimitives.ReadUInt32LittleEndian(record[20..]), size = BinaryPrimitives.ReadUInt32LittleEndian(record[24..]), offset = BinaryPrimitives.ReadUInt32LittleEndian(record[42..]);
        for (var at = 0; at + 4 <= extra.Length;)
        {
            int kind = BinaryPrimitives.ReadUInt16LittleEndian(extra[at..]), length = BinaryPrimitives.ReadUInt16LittleEndian(extra[(at + 2)..]);
            var part = extra.Slice(at + 4, Math.Min(length, extra.Length - at - 4));
            if (kind == 1)
            {
                size = size == uint.MaxValue ? Next(ref part) : size;
                packed = packed == uint.MaxValue ? Next(ref part) : packed;
                offset = offset == uint.MaxValue ? Next(ref part) : offset;
            }

            at += 4 + length;
        }

        return (packed, size, offset);
    }

    private static long Next(ref ReadOnlySpan<byte> part)
    {
        if (part.Length < 8)
        {
            return -1;
        }

        var value = BinaryPrimitives.ReadInt64LittleEndian(part);
        part = part[8..];
        return value;
    }

    private static long? Data(Stream zip, long offset, long size)
    {
        var head = new byte[30];
        if (size < 0 || !Read(zip, offset, head) || UInt32(head, 0) != 0x04034B50)
        {
            return null;
        }

        var data = offset + 30 + UInt16(head, 26) + UInt16(head, 28);
        return size <= zip.Length - data ? data : null;
    }

    private static bool Read(Stream zip, long offset, byte[] into)
    {
        if (offset < 0 || offset > zip.Length - into.Length)
        {
            return false;
        }

        zip.Position = offset;
        zip.ReadExactly(into);
        return true;
    }

    private static ushort UInt16(byte[] bytes, int at) => BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(at));

    private static uint UInt32(byte[] bytes, int at) => BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(at));
}
