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

    /// <summary>Whole frames as they lie in the file; zero bytes before it and after its end.</summary>
    public void ReadBytes(long start, int count, Span<byte> into)
    {
        var first = Math.Clamp(start, 0, Length);
        var last = Math.Clamp(start + count, first, Length);
        var lead = (int)Math.Min(count, first - start) * layout.BytesPerFrame;
        var bytes = (int)(last - first) * layout.BytesPerFrame;
        into[..lead].Clear();
        into[(lead + bytes)..(count * layout.BytesPerFrame)].Clear();
        ReadAt(layout.DataOffset + (first * layout.BytesPerFrame), into.Slice(lead, bytes));
    }

    public void Read(long start, int count, double[][] into)
    {
        var first = Math.Clamp(start, 0, Length);
        var last = Math.Clamp(start + count, first, Length);
        var lead = (int)Math.Min(count, first - start);
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var frames = (int)(last - first);
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

    private void ReadAt(long place, Span<byte> into)
    {
        stream.Position = place;
        stream.ReadExactly(into);
    }
}
