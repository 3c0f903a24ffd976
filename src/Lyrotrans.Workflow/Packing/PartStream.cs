using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Packing;

/// <summary>A stretch of a file, read as a file of its own; closes it.</summary>
public sealed class PartStream(Stream file, long offset, long length) : PlacedStream(length)
{
    protected override int ReadAt(long position, Span<byte> buffer)
    {
        file.Position = offset + position;
        return file.Read(buffer);
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            file.Dispose();
        }

        base.Dispose(disposing);
    }
}
