namespace Lyrotrans.Core.Preparing;

/// <summary>How the fader and its automation go into a file of clips.</summary>
public enum VolumeForm
{
    Kept,

    /// <summary>Part of the media.</summary>
    Rendered,
    LeftOut,
}
