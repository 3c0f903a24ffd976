namespace Lyrotrans.Workflow.Packing;

/// <summary>One entry of a zip under way.</summary>
internal sealed class StoredEntryStream : PackageEntry
{
    private readonly StoredZip _zip;
    private readonly long? _size;

    /// <param name="zip">That it is part of.</param>
    /// <param name="path">Of the entry, with <c>/</c>.</param>
    /// <param name="offset">Of its own header.</param>
    /// <param name="size">Its bytes; null where that shows when it is written.</param>
    public StoredEntryStream(StoredZip zip, string path, long offset, long? size)
        : base(path)
    {
        _zip = zip;
        _size = size;
        Offset = offset;
        HeadBytes = ZipRecords.HeadBytes(path, size);
    }

    public long Offset { get; }

    public int HeadBytes { get; }

    public long DataOffset => Offset + HeadBytes;

    public ZipRecord Record => new(Path, Offset, Length, Crc32, HeadBytes);

    protected override void Put(ReadOnlySpan<byte> buffer)
    {
        CheckRoom(_size, Length + buffer.Length);
        _zip.WriteAt(DataOffset + Length, buffer);
    }

    protected override void End()
    {
        CheckWhole(_size);
        _zip.Close(this);
    }
}
