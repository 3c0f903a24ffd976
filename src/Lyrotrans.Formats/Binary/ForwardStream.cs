namespace Lyrotrans.Formats.Binary;

/// <summary>A stream that is written front to back, and knows how much was.</summary>
public abstract class ForwardStream : Stream
{
    private long _count;

    /// <inheritdoc/>
    public sealed override bool CanRead => false;

    /// <inheritdoc/>
    public sealed override bool CanSeek => false;

    /// <inheritdoc/>
    public sealed override bool CanWrite => true;

    /// <summary>Bytes written so far.</summary>
    public sealed override long Length => _count;

    /// <inheritdoc/>
    public sealed override long Position
    {
        get => _count;
        set => throw new NotSupportedException();
    }

    public sealed override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

    public sealed override void Write(ReadOnlySpan<byte> buffer)
    {
        Take(buffer);
        _count += buffer.Length;
    }

    public override void Flush()
    {
    }

    public sealed override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    public sealed override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public sealed override void SetLength(long value) => throw new NotSupportedException();

    /// <summary>Takes the next bytes; <see cref="Length"/> still is what was before them.</summary>
    protected abstract void Take(ReadOnlySpan<byte> buffer);
}
