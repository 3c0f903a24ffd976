using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Bento;

/// <summary>A value as a stream: its parts one after the other, read from the file when they are wanted.</summary>
/// <remarks>docs/formats/bento.md, section 4.</remarks>
internal sealed class BentoStream(Stream file, IReadOnlyList<(long Offset, long Length)> parts) : PlacedStream(parts.Sum(p => p.Length))
{
    protected override int ReadAt(long position, Span<byte> buffer)
    {
        var start = 0L;
        foreach (var (offset, length) in parts)
        {
            if (position < start + length)
            {
                file.Position = offset + position - start;
                return file.Read(buffer[..(int)Math.Min(buffer.Length, start + length - position)]);
            }

            start += length;
        }

        return 0;
    }
}
