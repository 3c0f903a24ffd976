using Lyrotrans.Core.Findings;

namespace Lyrotrans.Audio.Containers;

/// <summary>Codes of files with picture, and of the sound that lies in them.</summary>
public static class ContainerCodes
{
    /// <summary>What is in the file cannot be told.</summary>
    public static readonly FindingCode NotRead = new("container.not-read");

    /// <summary>It holds neither picture nor sound.</summary>
    public static readonly FindingCode Nothing = new("container.nothing");

    /// <summary>ffmpeg, which reads it, is not installed.</summary>
    public static readonly FindingCode NotInstalled = new("container.not-installed");

    /// <summary>The picture cannot be made as it was asked for.</summary>
    public static readonly FindingCode NotMade = new("container.not-made");

    /// <summary>Its sound ends before it says that it does; the rest is silence.</summary>
    public static readonly FindingCode CutShort = new("container.cut-short");
}
