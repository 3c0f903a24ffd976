using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Delivering;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>A place of the signal path as a print.</summary>
public sealed class MixPrint(MixRender render, DeliveryRange range) : IPrint
{
    public int Channels => render.Channels;

    public void Read(long at, int count, double[][] into) => render.Read(range.Start + at, count, into);

    public void Dispose() => render.Dispose();
}
