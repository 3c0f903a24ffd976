namespace Lyrotrans.Core.Preparing;

/// <summary>In which files markers go; the session document keeps them always.</summary>
public enum MarkersForm
{
    /// <summary>In the MIDI file, the file of clips and a list.</summary>
    All,

    /// <summary>In the list alone.</summary>
    ListOnly,

    /// <summary>In none.</summary>
    None,
}
