using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Bento;

/// <summary>Codes of Bento containers.</summary>
public static class BentoCodes
{
    /// <summary>The file does not end with the label of a Bento container.</summary>
    public static readonly FindingCode NoLabel = new("bento.no-label");

    /// <summary>The table of contents lies beyond the file, is damaged, or cannot be followed to its end.</summary>
    public static readonly FindingCode BadContents = new("bento.bad-contents");

    /// <summary>Values lie beyond the end of the file; they were left out.</summary>
    public static readonly FindingCode ValuesCut = new("bento.values-cut");

    /// <summary>Values lie over one another; the sound in them was left out.</summary>
    public static readonly FindingCode ValuesShared = new("bento.values-shared");
}
