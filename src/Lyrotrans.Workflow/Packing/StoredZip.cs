namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// Writes a zip file (APPNOTE 6.3) whose entries are stored. Entries of known size get their place at once and are written side by side, from any thread;
/// zip64 where sizes or places need it. The same entries in the same order give the same bytes.
/// </summary>
public sealed class StoredZip : IPackageOutput
{
    private readonly Stream _output;
    private readonly DateTimeOffset _stamp;
    private readonly Lock _lock = new();
    private readonly List<StoredEntryStream> _entries = [];
    private readonly DiskSync _sync = new();
    private long _end;
    private StoredEntryStream? _open;

    /// <param name="output">Can seek; nothing else writes to it.</param>
    /// <param name="stamp">The date of every entry.</param>
    public StoredZip(Stream output, DateTimeOffset stamp)
    {
        _output = output;
        _stamp = stamp;
    }

    /// <inheritdoc/>
    public PackageEntry Reserve(string path, long bytes)
    {
        var entry = Begin(path, bytes);
        _end = entry.DataOffset + bytes;
        return entry;
    }

    /// <inheritdoc/>
    public PackageEntry Append(string path) => _open = Begin(path, null);

    /// <summary>Writes the directory.</summary>
    /// <exception cref="IOException">The disk is full or cannot be written.</exception>
    public void Finish()
    {
        WriteAt(_end, ZipRecords.Tail([.. _entries.Select(e => e.Record)], _end, _stamp));
        _sync.Finish();
    }

    internal void Close(StoredEntryStream entry)
    {
        if (_open == entry)
        {
            _end = entry.DataOffset + entry.Length;
            _open = null;
        }

        WriteAt(entry.Offset, ZipRecords.Local(entry.Record, _stamp));
    }

    private StoredEntryStream Begin(string path, long? bytes)
    {
        if (_open is not null)
        {
            throw new InvalidOperationException("An entry of unknown size is under way.");
        }

        var entry = new StoredEntryStream(this, path, _end, bytes);
        _entries.Add(entry);
        return entry;
    }

    internal void WriteAt(long offset, ReadOnlySpan<byte> bytes)
    {
        if (_output is FileStream file)
        {
            RandomAccess.Write(file.SafeFileHandle, bytes, offset);
            _sync.Wrote(file.SafeFileHandle, bytes.Length);
            return;
        }

        lock (_lock)
        {
            _output.Position = offset;
            _output.Write(bytes);
        }
    }
}
