namespace Lyrotrans.Core.Preparing;

/// <summary>How pan goes into a file of clips.</summary>
public enum PanForm
{
    /// <summary>As a parameter.</summary>
    Kept,

    /// <summary>A mono track that is panned goes as a left and a right one at the levels of its place.</summary>
    Split,
    LeftOut,
}
