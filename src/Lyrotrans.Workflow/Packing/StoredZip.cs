using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// Writes a zip file (APPNOTE 6.3) whose entries are stored. Entries of known size get their place at once and are written side by side, from any thread;
/// zip64 where sizes or places need it. The same entries in the same order give the same bytes.
/// </summary>
public sealed class StoredZip
{
    private const ushort Version = 45;
    private const ushort Utf8Names = 1 << 11;
    private const uint Most = uint.MaxValue;
    private const int HeaderBytes = 30;
    private const int LargeExtra = 20;
    private const long SyncEvery = 128 << 20;
    private readonly Stream _output;
    private readonly DateTimeOffset _stamp;
    private readonly Lock _lock = new();
    private readonly List<StoredEntryStream> _entries = [];
    private long _unsynced;
    private int _syncing;
    private Task _sync = Task.CompletedTask;
    private long _end;
    private StoredEntryStream? _open;

    /// <param name="output">Can seek; nothing else writes to it.</param>
    /// <param name="stamp">The date of every entry.</param>
    public StoredZip(Stream output, DateTimeOffset stamp)
    {
        _output = output;
        _stamp = stamp;
    }

    /// <summary>A place for an entry of a known size.</summary>
    public StoredEntryStream Reserve(string path, long bytes)
    {
        if (_open is not null)
        {
            throw new InvalidOperationException("An entry of unknown size is under way.");
        }

        var entry = new StoredEntryStream(this, path, _end, bytes, Head(path, bytes >= Most));
        _entries.Add(entry);
        _end = entry.DataOffset + bytes;
        return entry;
    }

    /// <summary>An entry whose size shows when it is written; the next one begins after it is finished.</summary>
    public StoredEntryStream Append(string path)
    {
        var entry = Reserve(path, 0);
        _end = 0;
        entry.SetOpen(Head(path, large: true));
        _open = entry;
        return entry;
    }

    /// <summary>Writes the directory.</summary>
    /// <exception cref="IOException">The disk is full or cannot be written.</exception>
    public void Finish()
    {
        var start = _end;
        foreach (var entry in _entries)
        {
            var record = Central(entry);
            WriteAt(_end, record);
            _end += record.Length;
        }

        WriteAt(_end, Ending(start, _end - start));
        _sync.GetAwaiter().GetResult();
    }

    internal void Close(StoredEntryStream entry)
    {
        if (_open == entry)
        {
            _end = entry.DataOffset + entry.Length;
            _open = null;
        }

        WriteAt(entry.Offset, Local(entry));
    }

    internal void WriteAt(long offset, ReadOnlySpan<byte> bytes)
    {
        if (_output is FileStream file)
        {
            RandomAccess.Write(file.SafeFileHandle, bytes, offset);
            if (Interlocked.Add(ref _unsynced, bytes.Length) > SyncEvery)
            {
                SyncBehind(file);
            }

            return;
        }

        lock (_lock)
        {
            _output.Position = offset;
            _output.Write(bytes);
        }
    }

    /// <summary>Lets the disk begin while the next samples are made, so that little is left to wait for at the end.</summary>
    private void SyncBehind(FileStream file)
    {
        if (Interlocked.Exchange(ref _syncing, 1) == 0)
        {
            Interlocked.Exchange(ref _unsynced, 0);
            _sync = Task.Run(() =>
            {
                RandomAccess.FlushToDisk(file.SafeFileHandle);
                Interlocked.Exchange(ref _syncing, 0);
            });
        }
    }

    private static int Head(string path, bool large) => HeaderBytes + Encoding.UTF8.GetByteCount(path) + (large ? LargeExtra : 0);

    private byte[] Local(StoredEntryStream entry)
    {
        var name = Encoding.UTF8.GetBytes(entry.Path);
        var bytes = new byte[entry.HeadBytes];
        var large = entry.HeadBytes > HeaderBytes + name.Length;
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x04034B50);
        Common(bytes.AsSpan(4), entry, large);
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
    private void Common(Span<byte> into, StoredEntryStream entry, bool large)
    {
        BinaryPrimitives.WriteUInt16LittleEndian(into, Version);
        BinaryPrimitives.WriteUInt16LittleEndian(into[2..], Utf8Names);
        BinaryPrimitives.WriteUInt16LittleEndian(into[6..], (ushort)((_stamp.Hour << 11) | (_stamp.Minute << 5) | (_stamp.Second / 2)));
        BinaryPrimitives.WriteUInt16LittleEndian(into[8..], (ushort)(((Math.Max(1980, _stamp.Year) - 1980) << 9) | (_stamp.Month << 5) | _stamp.Day));
        BinaryPrimitives.WriteUInt32LittleEndian(into[10..], entry.Crc32);
        BinaryPrimitives.WriteUInt32LittleEndian(into[14..], large ? Most : (uint)entry.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(into[18..], large ? Most : (uint)entry.Length);
    }

    private byte[] Central(StoredEntryStream entry)
    {
        var name = Encoding.UTF8.GetBytes(entry.Path);
        var large = entry.Length >= Most || entry.Offset >= Most;
        var bytes = new byte[46 + name.Length + (large ? 28 : 0)];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x02014B50);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(4), (3 << 8) | Version);
        Common(bytes.AsSpan(6), entry, large);
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

    private byte[] Ending(long start, long size)
    {
        var large = start + size >= Most || _entries.Count >= ushort.MaxValue;
        var bytes = new byte[large ? 56 + 20 + 22 : 22];
        if (large)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(bytes, 0x06064B50);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(4), 44);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(12), (3 << 8) | Version);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(14), Version);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(24), _entries.Count);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(32), _entries.Count);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(40), size);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(48), start);
            BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(56), 0x07064B50);
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(64), start + size);
            BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(72), 1);
        }

        var end = bytes.AsSpan(bytes.Length - 22);
        var count = (ushort)Math.Min(_entries.Count, ushort.MaxValue);
        BinaryPrimitives.WriteUInt32LittleEndian(end, 0x06054B50);
        BinaryPrimitives.WriteUInt16LittleEndian(end[8..], count);
        BinaryPrimitives.WriteUInt16LittleEndian(end[10..], count);
        BinaryPrimitives.WriteUInt32LittleEndian(end[12..], large ? Most : (uint)size);
        BinaryPrimitives.WriteUInt32LittleEndian(end[16..], large ? Most : (uint)start);
        return bytes;
    }
}
