namespace Lyrotrans.Core.Preparing;

public enum PanForm
{
    /// <summary>As a parameter.</summary>
    Kept,

    /// <summary>A mono track that is panned goes as a left and a right one at the levels of its place.</summary>
    Split,
    LeftOut,
}
