namespace Lyrotrans.Workflow.Build;

/// <summary>Passes bytes on and tells how many there were, every few megabytes.</summary>
internal sealed class WatchedStream(Stream inner, Action<long> tell) : Stream
{
    private const long Every = 4 << 20;
    private long _written;
    private long _told;

    public override bool CanRead => false;

    public override bool CanSeek => false;

    public override bool CanWrite => true;

    public override long Length => _written;

    public override long Position
    {
        get => _written;
        set => throw new NotSupportedException();
    }

    public override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

    public override void Write(ReadOnlySpan<byte> buffer)
    {
        inner.Write(buffer);
        _written += buffer.Length;
        if (_written - _told >= Every)
        {
            _told = _written;
            tell(_written);
        }
    }

    public override void Flush() => inner.Flush();

    public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();
}
