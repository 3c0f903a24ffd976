using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Returning;

/// <summary>Sound whose samples are taken as of another rate than it says.</summary>
/// <param name="source">Closed with this.</param>
/// <param name="factor">By what its rate is multiplied.</param>
internal sealed class RestatedSource(ISampleSource source, Rational factor) : ISampleSource
{
    public int Channels => source.Channels;

    public long Length => source.Length;

    public SampleRate Rate { get; } = new(source.Rate.PerSecond * factor);

    public void Read(long start, int count, double[][] into) => source.Read(start, count, into);

    public void Dispose() => source.Dispose();
}
