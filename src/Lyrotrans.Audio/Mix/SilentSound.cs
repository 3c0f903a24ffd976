using Lyrotrans.Audio.Sources;

namespace Lyrotrans.Audio.Mix;

/// <summary>A track that plays nothing of its own: a bus, a return, the master.</summary>
internal sealed class SilentSound : ITrackSound
{
    public static SilentSound Instance { get; } = new();

    public void Read(long start, int count, double[][] into)
    {
        foreach (var channel in into)
        {
            channel.AsSpan(0, count).Clear();
        }
    }

    public void Dispose()
    {
    }
}
