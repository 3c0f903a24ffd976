namespace Lyrotrans.Workflow.Packing;

/// <summary>What the records of a zip say of a stored entry.</summary>
/// <param name="Path">Of the entry, with <c>/</c>.</param>
/// <param name="Offset">Of its own header.</param>
/// <param name="Length">Of its bytes.</param>
/// <param name="Crc32">Of its bytes.</param>
/// <param name="HeadBytes">Length of its own header.</param>
internal readonly record struct ZipRecord(string Path, long Offset, long Length, uint Crc32, int HeadBytes)
{
    /// <summary>One past its last byte.</summary>
    public long End => Offset + HeadBytes + Length;
}
