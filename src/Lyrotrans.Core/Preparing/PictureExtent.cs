namespace Lyrotrans.Core.Preparing;

/// <summary>Whether the reference picture goes as a file, and how much of it.</summary>
public enum PictureExtent
{
    /// <summary>It does not.</summary>
    None,

    /// <summary>All of it.</summary>
    Whole,

    /// <summary>From the frame that is seen when the files begin.</summary>
    FromFiles,
}
