namespace Lyrotrans.Formats.Binary;

/// <summary>A stream of a known length that is read from any place.</summary>
/// <param name="length">In bytes.</param>
public abstract class PlacedStream(long length) : Stream
{
    private long _position;

    /// <inheritdoc/>
    public sealed override bool CanRead => true;

    /// <inheritdoc/>
    public sealed override bool CanSeek => true;

    /// <inheritdoc/>
    public sealed override bool CanWrite => false;

    /// <inheritdoc/>
    public sealed override long Length => length;

    /// <inheritdoc/>
    public sealed override long Position
    {
        get => _position;
        set => _position = value >= 0 ? value : throw new ArgumentOutOfRangeException(nameof(value));
    }

    public sealed override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public sealed override int Read(Span<byte> buffer)
    {
        var count = (int)Math.Clamp(length - _position, 0, buffer.Length);
        var read = count == 0 ? 0 : ReadAt(_position, buffer[..count]);
        _position += read;
        return read;
    }

    public sealed override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => _position + offset,
        _ => length + offset,
    };

    public sealed override void Flush()
    {
    }

    public sealed override void SetLength(long value) => throw new NotSupportedException();

    public sealed override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    /// <summary>Reads some bytes from a place on, at least one unless its source ended early.</summary>
    /// <param name="position">Inside the length.</param>
    /// <param name="buffer">Not empty, and not past the length.</param>
    protected abstract int ReadAt(long position, Span<byte> buffer);
}
