using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Build;

/// <summary>Passes bytes on and tells how many there were, every few megabytes.</summary>
internal sealed class WatchedStream(Stream inner, Action<long> tell) : ForwardStream
{
    private const long Every = 4 << 20;
    private long _told;

    public override void Flush() => inner.Flush();

    protected override void Take(ReadOnlySpan<byte> buffer)
    {
        inner.Write(buffer);
        var written = Length + buffer.Length;
        if (written - _told >= Every)
        {
            _told = written;
            tell(written);
        }
    }
}
