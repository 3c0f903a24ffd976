using System.Buffers.Binary;
using System.IO.Hashing;
using System.Text;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A zip of stored entries whose directory may say what is not so.</summary>
internal static class HandmadeZip
{
    /// <param name="Name">Of the entry.</param>
    /// <param name="Bytes">What lies there.</param>
    /// <param name="Size">What the directory says of it, packed and unpacked, with 64 bits; null for the truth.</param>
    /// <param name="At">The entry, from 0, whose place the directory says for this one; null for its own.</param>
    /// <param name="Sum">The checksum that the directory says; null for the true one.</param>
    public sealed record Entry(string Name, byte[] Bytes, long? Size = null, int? At = null, uint? Sum = null);

    public static byte[] Of(params Entry[] entries)
    {
        using var zip = new MemoryStream();
        var places = new List<long>();
        foreach (var entry in entries)
        {
            places.Add(zip.Position);
            var head = new byte[30];
            BinaryPrimitives.WriteUInt32LittleEndian(head, 0x04034B50);
            Common(head.AsSpan(4), entry, (uint)entry.Bytes.Length);
            zip.Write(head);
            zip.Write(Encoding.UTF8.GetBytes(entry.Name));
            zip.Write(entry.Bytes);
        }

        var directory = zip.Position;
        foreach (var entry in entries)
        {
            zip.Write(Central(entry, (uint)places[entry.At ?? Array.IndexOf(entries, entry)]));
        }

        var end = new byte[22];
        BinaryPrimitives.WriteUInt32LittleEndian(end, 0x06054B50);
        BinaryPrimitives.WriteUInt16LittleEndian(end.AsSpan(8), (ushort)entries.Length);
        BinaryPrimitives.WriteUInt16LittleEndian(end.AsSpan(10), (ushort)entries.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(end.AsSpan(12), (uint)(zip.Position - directory));
        BinaryPrimitives.WriteUInt32LittleEndian(end.AsSpan(16), (uint)directory);
        zip.Write(end);
        return zip.ToArray();
    }

    private static byte[] Central(Entry entry, uint place)
    {
        var name = Encoding.UTF8.GetBytes(entry.Name);
        var record = new byte[46 + name.Length + (entry.Size is null ? 0 : 20)];
        BinaryPrimitives.WriteUInt32LittleEndian(record, 0x02014B50);
        BinaryPrimitives.WriteUInt16LittleEndian(record.AsSpan(4), 45);
        Common(record.AsSpan(6), entry, entry.Size is null ? (uint)entry.Bytes.Length : uint.MaxValue);
        BinaryPrimitives.WriteUInt32LittleEndian(record.AsSpan(42), place);
        name.CopyTo(record, 46);
        if (entry.Size is { } size)
        {
            BinaryPrimitives.WriteUInt16LittleEndian(record.AsSpan(30), 20);
            var extra = record.AsSpan(46 + name.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(extra, 1);
            BinaryPrimitives.WriteUInt16LittleEndian(extra[2..], 16);
            BinaryPrimitives.WriteInt64LittleEndian(extra[4..], size);
            BinaryPrimitives.WriteInt64LittleEndian(extra[12..], size);
        }

        return record;
    }

    // Version needed, flags, method (stored), time, date, CRC-32, both sizes, length of the name.
    private static void Common(Span<byte> into, Entry entry, uint size)
    {
        BinaryPrimitives.WriteUInt16LittleEndian(into, 45);
        BinaryPrimitives.WriteUInt32LittleEndian(into[10..], entry.Sum ?? Crc32.HashToUInt32(entry.Bytes));
        BinaryPrimitives.WriteUInt32LittleEndian(into[14..], size);
        BinaryPrimitives.WriteUInt32LittleEndian(into[18..], size);
        BinaryPrimitives.WriteUInt16LittleEndian(into[22..], (ushort)Encoding.UTF8.GetByteCount(entry.Name));
    }
}
