namespace Lyrotrans.Core.Preparing;

/// <summary>The noise that is added where bits are lost to 16.</summary>
public enum DitherForm
{
    /// <summary>Triangular, two steps wide (TPDF), the same at all frequencies.</summary>
    Flat,

    /// <summary>The same, with the error pushed upwards in frequency: less below, more above.</summary>
    Shaped,
}
