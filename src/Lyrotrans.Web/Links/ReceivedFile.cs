using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Links;

/// <summary>A file of a package as its receiver sees it.</summary>
/// <param name="Number">Its place in the package, from 0; its address has it.</param>
/// <param name="Name">Its path inside the package's folder.</param>
/// <param name="What">What it is, in words.</param>
/// <param name="Channels">For sound; 0 for what is none.</param>
/// <param name="Samples">For sound, its length in samples of <paramref name="Rate"/>.</param>
/// <param name="Rate">For sound; null where nothing says it.</param>
/// <param name="File">Where it lies.</param>
public sealed record ReceivedFile(int Number, string Name, string What, int Channels, long Samples, SampleRate? Rate, KeptFile File)
{
    /// <summary>Whether it can be listened to.</summary>
    public bool IsSound => ReceivedFiles.IsSound(File);

    /// <summary>How long it sounds; null where nothing says it.</summary>
    public TimeSpan? Lasts => Rate is { } rate && Samples > 0 ? TimeSpan.FromSeconds(rate.SecondsOf(Samples).ToDouble()) : null;
}
