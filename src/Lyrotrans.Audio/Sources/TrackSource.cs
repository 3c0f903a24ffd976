using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Sources;

/// <summary>The sound of a track, of which any place can be read, as a source whose first frame is sample 0 of the session.</summary>
/// <param name="sound">Closed with this.</param>
/// <param name="channels">Of the sound.</param>
/// <param name="rate">Of the session.</param>
/// <param name="length">In session samples.</param>
public sealed class TrackSource(ITrackSound sound, int channels, SampleRate rate, long length) : ISampleSource
{
    public int Channels => channels;

    public long Length => length;

    public SampleRate Rate => rate;

    public void Read(long start, int count, double[][] into) => sound.Read(start, count, into);

    public void Dispose() => sound.Dispose();
}
