using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>A source that reads a local copy, which goes when it is closed.</summary>
internal sealed class CopiedSource(ISampleSource source, LocalFile copy) : ISampleSource
{
    public int Channels => source.Channels;

    public long Length => source.Length;

    public SampleRate Rate => source.Rate;

    public void Read(long start, int count, double[][] into) => source.Read(start, count, into);

    public void Dispose()
    {
        source.Dispose();
        copy.Dispose();
    }
}
