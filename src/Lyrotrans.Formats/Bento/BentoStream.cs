namespace Lyrotrans.Formats.Bento;

/// <summary>A value as a stream: its parts one after the other, read from the file when they are wanted.</summary>
internal sealed class BentoStream(Stream file, IReadOnlyList<(long Offset, long Length)> parts) : Stream
{
    private long _position;

    public override bool CanRead => true;

    public override bool CanSeek => true;

    public override bool CanWrite => false;

    public override long Length { get; } = parts.Sum(p => p.Length);

    public override long Position
    {
        get => _position;
        set => _position = value >= 0 ? value : throw new ArgumentOutOfRangeException(nameof(value));
    }

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override int Read(Span<byte> buffer)
    {
        var start = 0L;
        foreach (var (offset, length) in parts)
        {
            if (_position < start + length && buffer.Length > 0)
            {
                file.Position = offset + _position - start;
                var read = file.Read(buffer[..(int)Math.Min(buffer.Length, start + length - _position)]);
                _position += read;
                return read;
            }

            start += length;
        }

        return 0;
    }

    public override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => _position + offset,
        _ => Length + offset,
    };

    public override void Flush()
    {
    }

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
