namespace Lyrotrans.Core.Preparing;

/// <summary>The bits of the media of kept clips.</summary>
public enum ClipDepth
{
    /// <summary>What each medium has, where the format holds it.</summary>
    Own,
    Integer16,
    Integer24,
}
