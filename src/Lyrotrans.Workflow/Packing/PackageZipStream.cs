using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Packing;

/// <summary>Reads a zip that is put together from its files. One file is open at a time.</summary>
/// <param name="layout">Where everything lies.</param>
/// <param name="open">Opens an entry's file by its number; the stream can seek.</param>
internal sealed class PackageZipStream(ZipLayout layout, Func<int, Stream> open) : PlacedStream(layout.Length)
{
    private Stream? _file;
    private int _opened = -1;

    protected override int ReadAt(long position, Span<byte> buffer)
    {
        if (position >= layout.TailOffset)
        {
            return Copy(layout.Tail, position - layout.TailOffset, buffer);
        }

        var entry = EntryAt(position);
        var record = layout.Records[entry];
        var inside = position - record.Offset - record.HeadBytes;
        return inside < 0 ? Copy(layout.HeadOf(record), inside + record.HeadBytes, buffer) : ReadFile(entry, record, inside, buffer);
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _file?.Dispose();
        }

        base.Dispose(disposing);
    }

    private int ReadFile(int entry, ZipRecord record, long inside, Span<byte> buffer)
    {
        if (_opened != entry)
        {
            _file?.Dispose();
            (_file, _opened) = (null, -1);
            _file = open(entry);
            _opened = entry;
            if (_file.Length != record.Length)
            {
                throw new IOException($"{record.Path} has {_file.Length} bytes where the package lies, and had {record.Length} when it was made.");
            }
        }

        _file!.Position = inside;
        return _file.Read(buffer[..(int)Math.Min(buffer.Length, record.Length - inside)]);
    }

    /// <summary>The last entry that begins at or before a place; empty files lie there too, so the one that reaches over it.</summary>
    private int EntryAt(long position)
    {
        var (low, high) = (0, layout.Records.Count - 1);
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            (low, high) = layout.Records[middle].Offset <= position ? (middle, high) : (low, middle - 1);
        }

        return low;
    }

    private static int Copy(byte[] from, long at, Span<byte> into)
    {
        var count = (int)Math.Min(from.Length - at, into.Length);
        from.AsSpan((int)at, count).CopyTo(into);
        return count;
    }
}
