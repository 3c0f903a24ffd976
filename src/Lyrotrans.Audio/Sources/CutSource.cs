using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Sources;

/// <summary>A stretch of a sound, as one of its own. What lies beyond the stretch is silence, also where the sound goes on.</summary>
/// <param name="source">Closed with this.</param>
/// <param name="from">The sample of the sound that is the first here.</param>
/// <param name="length">In samples.</param>
/// <param name="beneath">Closed with this too: what a converted sound is made of.</param>
public sealed class CutSource(ISampleSource source, long from, long length, IDisposable? beneath = null) : ISampleSource
{
    public int Channels => source.Channels;

    public long Length => length;

    public SampleRate Rate => source.Rate;

    public void Read(long start, int count, double[][] into)
    {
        source.Read(from + start, count, into);
        var (before, after) = ((int)Math.Clamp(-start, 0, count), (int)Math.Clamp(length - start, 0, count));
        foreach (var channel in into)
        {
            channel.AsSpan(0, before).Clear();
            channel.AsSpan(after, count - after).Clear();
        }
    }

    public void Dispose()
    {
        source.Dispose();
        beneath?.Dispose();
    }
}
