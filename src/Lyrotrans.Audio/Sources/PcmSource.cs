using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Sources;

/// <summary>Linear samples of a WAVE or AIFF file, read straight from where they lie.</summary>
public sealed class PcmSource(Stream stream, PcmLayout layout) : ISampleSource
{
    private byte[] _buffer = [];

    public int Channels => layout.Channels;

    public long Length => layout.Frames;

    public SampleRate Rate => layout.Rate;

    /// <summary>How the samples lie in the file.</summary>
    public PcmLayout Layout => layout;

    /// <summary>Whole frames as they lie in the file; silence before it and after its end.</summary>
    public void ReadBytes(long start, int count, Span<byte> into)
    {
        var (first, lead, frames) = Within(start, count);
        var (before, bytes) = (lead * layout.BytesPerFrame, frames * layout.BytesPerFrame);
        into[..before].Fill(layout.Encoding.SilentByte());
        into[(before + bytes)..(count * layout.BytesPerFrame)].Fill(layout.Encoding.SilentByte());
        ReadAt(layout.DataOffset + (first * layout.BytesPerFrame), into.Slice(before, bytes));
    }

    public void Read(long start, int count, double[][] into)
    {
        var (first, lead, frames) = Within(start, count);
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        if (frames == 0)
        {
            return;
        }

        var bytes = frames * layout.BytesPerFrame;
        if (_buffer.Length < bytes)
        {
            _buffer = new byte[bytes];
        }

        ReadAt(layout.DataOffset + (first * layout.BytesPerFrame), _buffer.AsSpan(0, bytes));
        PcmDecoder.Decode(_buffer.AsSpan(0, bytes), layout.Encoding, layout.BigEndian, Channels, into, lead);
    }

    public void Dispose() => stream.Dispose();

    // The part of a stretch that lies in the file: its first frame, how many frames of the stretch lie before it, and how many frames it has. Nothing of a stretch that lies beside it.
    private (long First, int Lead, int Frames) Within(long start, int count)
    {
        var first = Math.Clamp(start, 0, Length);
        var last = Math.Clamp(start + count, first, Length);
        return (first, (int)Math.Clamp(first - start, 0, count), (int)(last - first));
    }

    private void ReadAt(long place, Span<byte> into)
    {
        stream.Position = place;
        stream.ReadExactly(into);
    }
}
