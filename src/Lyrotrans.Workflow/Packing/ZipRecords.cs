using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Workflow.Packing;

/// <summary>The records of a zip file whose entries are stored (APPNOTE 6.3): zip64 where sizes or places need it. The same entries give the same bytes.</summary>
internal static class ZipRecords
{
    private const ushort Version = 45;
    private const ushort Utf8Names = 1 << 11;
    private const uint Most = uint.MaxValue;
    private const int HeaderBytes = 30;
    private const int LargeExtra = 20;

    /// <summary>Length of an entry's own header.</summary>
    /// <param name="path">Of the entry.</param>
    /// <param name="bytes">Of the entry; null where that is not known yet, and room is kept for any.</param>
    public static int HeadBytes(string path, long? bytes) => HeaderBytes + Encoding.UTF8.GetByteCount(path) + (bytes is null or >= Most ? LargeExtra : 0);

    /// <summary>An entry's own header.</summary>
    public static byte[] Local(ZipRecord entry, DateTimeOffset stamp)
    {
        var name = Encoding.UTF8.GetBytes(entry.Path);
        var bytes = new byte[entry.HeadBytes];
        var large = entry.HeadBytes > HeaderBytes + name.Length;
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x04034B50);
        Common(bytes.AsSpan(4), entry, large, stamp);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(26), (ushort)name.Length);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(28), (ushort)(large ? LargeExtra : 0));
        name.CopyTo(bytes, HeaderBytes);
        if (large)
        {
            var extra = bytes.AsSpan(HeaderBytes + name.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(extra, 1);
            BinaryPrimitives.WriteUInt16LittleEndian(extra[2..], LargeExtra - 4);
            BinaryPrimitives.WriteInt64LittleEndian(extra[4..], entry.Length);
            BinaryPrimitives.WriteInt64LittleEndian(extra[12..], entry.Length);
        }

        return bytes;
    }

    // Version needed, flags, method (stored), time, date, CRC-32, both sizes.
    private static void Common(Span<byte> into, ZipRecord entry, bool large, DateTimeOffset stamp)
    {
        BinaryPrimitives.WriteUInt16LittleEndian(into, Version);
        BinaryPrimitives.WriteUInt16LittleEndian(into[2..], Utf8Names);
        BinaryPrimitives.WriteUInt16LittleEndian(into[6..], (ushort)((stamp.Hour << 11) | (stamp.Minute << 5) | (stamp.Second / 2)));
        BinaryPrimitives.WriteUInt16LittleEndian(into[8..], (ushort)(((Math.Max(1980, stamp.Year) - 1980) << 9) | (stamp.Month << 5) | stamp.Day));
        BinaryPrimitives.WriteUInt32LittleEndian(into[10..], entry.Crc32);
        BinaryPrimitives.WriteUInt32LittleEndian(into[14..], large ? Most : (uint)entry.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(into[18..], large ? Most : (uint)entry.Length);
    }

    /// <summary>An entry's record in the directory.</summary>
    private static byte[] Central(ZipRecord entry, DateTimeOffset stamp)
    {
        var name = Encoding.UTF8.GetBytes(entry.Path);
        var large = entry.Length >= Most || entry.Offset >= Most;
        var bytes = new byte[46 + name.Length + (large ? 28 : 0)];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x02014B50);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(4), (3 << 8) | Version);
        Common(bytes.AsSpan(6), entry, large, stamp);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(28), (ushort)name.Length);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(30), (ushort)(large ? 28 : 0));
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(38), Convert.ToUInt32("100644", 8) << 16);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(42), large ? Most : (uint)entry.Offset);
        name.CopyTo(bytes, 46);
        if (large)
        {
            var extra = bytes.AsSpan(46 + name.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(extra, 1);
            BinaryPrimitives.WriteUInt16LittleEndian(extra[2..], 24);
            BinaryPrimitives.WriteInt64LittleEndian(extra[4..], entry.Length);
            BinaryPrimitives.WriteInt64LittleEndian(extra[12..], entry.Length);
            BinaryPrimitives.WriteInt64LittleEndian(extra[20..], entry.Offset);
        }

        return bytes;
    }

    /// <summary>The directory of all entries, and what closes it.</summary>
    /// <param name="start">Where it begins.</param>
    public static byte[] Tail(IReadOnlyCollection<ZipRecord> entries, long start, DateTimeOffset stamp)
    {
        var directory = entries.SelectMany(e => Central(e, stamp)).ToArray();
        return [.. directory, .. Ending(start, directory.Length, entries.Count)];
    }

    /// <summary>What closes the directory.</summary>
    /// <param name="start">Where the directory begins.</param>
    /// <param name="size">Its bytes.</param>
    /// <param name="entries">How many are in it.</param>
    private static byte[] Ending(long start, long size, int entries)
    {
        var large = start + size >= Most || entries >= ushort.MaxValue;
        var bytes = new byte[large ? 56 + 20 + 22 : 22];
        if (large)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x06064B50);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(4), 44);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(12), (3 << 8) | Version);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(14), Version);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(24), entries);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(32), entries);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(40), size);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(48), start);
            BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(56), 0x07064B50);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(64), start + size);
            BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(72), 1);
        }

        var end = bytes.AsSpan(bytes.Length - 22);
        var count = (ushort)Math.Min(entries, ushort.MaxValue);
        BinaryPrimitives.WriteUInt32LittleEndian(end, 0x06054B50);
        BinaryPrimitives.WriteUInt16LittleEndian(end[8..], count);
        BinaryPrimitives.WriteUInt16LittleEndian(end[10..], count);
        BinaryPrimitives.WriteUInt32LittleEndian(end[12..], large ? Most : (uint)size);
        BinaryPrimitives.WriteUInt32LittleEndian(end[16..], large ? Most : (uint)start);
        return bytes;
    }
}
