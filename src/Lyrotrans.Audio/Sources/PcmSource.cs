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

        stream.Position = layout.DataOffset + (first * layout.BytesPerFrame);
        stream.ReadExactly(_buffer, 0, bytes);
        PcmDecoder.Decode(_buffer.AsSpan(0, bytes), layout.Encoding, layout.BigEndian, Channels, into, lead);
    }

    public void Dispose() => stream.Dispose();
}
