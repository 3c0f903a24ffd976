using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sound;

/// <summary>Where interleaved samples lie in a file, and how. Offset in bytes; length in sample frames (one sample of each channel).</summary>
public sealed record PcmLayout(
    SampleEncoding Encoding, bool BigEndian, int Channels, SampleRate Rate, long DataOffset, long Frames)
{
    /// <summary>One sample of each channel, in bytes.</summary>
    public int BytesPerFrame => Encoding.Bytes() * Channels;

    /// <summary>All samples, in bytes.</summary>
    public long DataBytes => Frames * BytesPerFrame;
}
