namespace Lyrotrans.Core.Preparing;

public enum VolumeForm
{
    Kept,

    /// <summary>Part of the media.</summary>
    Rendered,
    LeftOut,
}
