using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>A place of the signal path as a print.</summary>
public sealed class MixPrint(MixRender render, SampleRange range) : IPrint
{
    public int Channels => render.Channels;

    public void Read(long at, int count, double[][] into) => render.Read(range.Start + at, count, into);

    public void Dispose() => render.Dispose();
}
