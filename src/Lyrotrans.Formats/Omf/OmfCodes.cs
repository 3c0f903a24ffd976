using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Omf;

/// <summary>Codes of OMF files alone.</summary>
public static class OmfCodes
{
    /// <summary>The container has no OMF header.</summary>
    public static readonly FindingCode NoHeader = new("omf.no-header");

    /// <summary>Sound lies inside in a form that cannot be read; its file must be found.</summary>
    public static readonly FindingCode SoundKind = new("omf.sound-kind");

    /// <summary>Nothing says how names are coded; the likelier of two codings was taken.</summary>
    public static readonly FindingCode TextGuessed = new("omf.text-guessed");
}
