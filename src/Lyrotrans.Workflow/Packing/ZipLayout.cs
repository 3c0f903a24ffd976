namespace Lyrotrans.Workflow.Packing;

/// <summary>Where everything lies in a zip of stored files: a header before each, the directory behind the last.</summary>
internal sealed class ZipLayout
{
    private readonly DateTimeOffset _stamp;

    /// <param name="files">Path, length, CRC-32, and whether the length was known before; in their order.</param>
    /// <param name="stamp">The date of every entry.</param>
    public ZipLayout(IEnumerable<(string Path, long Bytes, uint Crc32, bool SizeKnown)> files, DateTimeOffset stamp)
    {
        _stamp = stamp;
        var records = new List<ZipRecord>();
        var end = 0L;
        foreach (var (path, bytes, crc32, sizeKnown) in files)
        {
            records.Add(new ZipRecord(path, end, bytes, crc32, ZipRecords.HeadBytes(path, sizeKnown ? bytes : null)));
            end = records[^1].End;
        }

        Records = records;
        TailOffset = end;
        Tail = ZipRecords.Tail(records, end, stamp);
    }

    /// <summary>Each entry.</summary>
    public IReadOnlyList<ZipRecord> Records { get; }

    /// <summary>Where the directory begins.</summary>
    public long TailOffset { get; }

    /// <summary>The directory and what closes it.</summary>
    public byte[] Tail { get; }

    /// <summary>Of the zip, in bytes.</summary>
    public long Length => TailOffset + Tail.Length;

    /// <summary>An entry's own header.</summary>
    public byte[] HeadOf(ZipRecord record) => ZipRecords.Local(record, _stamp);
}
