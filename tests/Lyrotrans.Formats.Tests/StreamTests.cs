using CsCheck;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Tests;

public class StreamTests
{
    /// <summary>Gives a few bytes at a time, as a file that lies in pieces does.</summary>
    private sealed class Pieces(byte[] bytes, int most) : PlacedStream(bytes.Length)
    {
        protected override int ReadAt(long position, Span<byte> buffer)
        {
            var count = Math.Min(buffer.Length, most);
            bytes.AsSpan((int)position, count).CopyTo(buffer);
            return count;
        }
    }

    private sealed class Kept : ForwardStream
    {
        public List<(long At, int Count)> Pieces { get; } = [];

        protected override void Take(ReadOnlySpan<byte> buffer) => Pieces.Add((Length, buffer.Length));
    }

    [Fact]
    public void A_placed_stream_reads_what_a_memory_stream_reads() => Gen.Select(Gen.Byte.Array[0, 200], Gen.Int[1, 20], Gen.Select(Gen.Int[0, 2], Gen.Int[0, 250], Gen.Int[0, 60]).Array[1, 20]).Sample((bytes, most, steps) =>
    {
        using var meant = new MemoryStream(bytes);
        using var found = new Pieces(bytes, most);
        foreach (var (origin, offset, count) in steps)
        {
            var to = origin switch { 0 => offset, 1 => Math.Max(offset - 100, -meant.Position), _ => -Math.Min(offset, bytes.Length) };
            if (meant.Seek(to, (SeekOrigin)origin) != found.Seek(to, (SeekOrigin)origin))
            {
                return false;
            }

            var (a, b) = (new byte[count], new byte[count]);
            if (meant.ReadAtLeast(a, count, false) != found.ReadAtLeast(b, count, false) || !a.AsSpan().SequenceEqual(b) || meant.Position != found.Position)
            {
                return false;
            }
        }

        return found.Length == bytes.Length;
    });

    [Fact]
    public void A_placed_stream_is_not_written_and_not_sought_before_its_beginning()
    {
        using var stream = new Pieces([1, 2, 3], 9);
        Assert.Throws<NotSupportedException>(() => stream.Write([1]));
        Assert.Throws<NotSupportedException>(() => stream.SetLength(9));
        Assert.Throws<ArgumentOutOfRangeException>(() => stream.Seek(-1, SeekOrigin.Begin));
        stream.Position = 99;
        Assert.Equal(-1, stream.ReadByte());
    }

    [Fact]
    public void A_forward_stream_knows_how_much_was_written_before_each_piece()
    {
        using var stream = new Kept();
        stream.Write([1, 2, 3]);
        stream.WriteByte(4);
        stream.Write(new byte[10], 2, 5);
        Assert.Equal([(0L, 3), (3L, 1), (4L, 5)], stream.Pieces);
        Assert.Equal((9L, 9L), (stream.Length, stream.Position));
        Assert.Throws<NotSupportedException>(() => stream.Seek(0, SeekOrigin.Begin));
        Assert.Throws<NotSupportedException>(() => stream.Position = 0);
        Assert.Throws<NotSupportedException>(() => stream.ReadByte());
    }
}
