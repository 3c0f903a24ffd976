using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Bento;

/// <summary>Passes bytes on and counts them.</summary>
internal sealed class CountedStream(Stream inner) : ForwardStream
{
    public override void Flush() => inner.Flush();

    protected override void Take(ReadOnlySpan<byte> buffer) => inner.Write(buffer);
}
