using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Sound held in memory.</summary>
public sealed class ArraySource(double[][] sound, SampleRate rate) : ISampleSource
{
    public int Channels => sound.Length;

    public long Length => sound[0].Length;

    public SampleRate Rate { get; } = rate;

    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            for (var i = 0; i < count; i++)
            {
                into[c][i] = start + i >= 0 && start + i < Length ? sound[c][start + i] : 0;
            }
        }
    }

    public void Dispose()
    {
    }
}

/// <summary>Opens sound held in memory by media id.</summary>
public sealed class ArrayOpener(Dictionary<string, double[][]> sounds) : IMediaOpener
{
    public ISampleSource? Open(Media media) => sounds.TryGetValue(media.Id, out var sound) ? new ArraySource(sound, media.Rate) : null;
}
