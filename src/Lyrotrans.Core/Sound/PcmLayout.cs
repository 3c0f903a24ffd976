using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sound;

/// <summary>Where interleaved samples lie in a file, and how. Offset in bytes; length in sample frames (one sample of each channel).</summary>
public sealed record PcmLayout(
    SampleEncoding Encoding, bool BigEndian, int Channels, SampleRate Rate, long DataOffset, long Frames)
{
    public int BytesPerFrame => Encoding.Bytes() * Channels;

    public long DataBytes => Frames * BytesPerFrame;
}
