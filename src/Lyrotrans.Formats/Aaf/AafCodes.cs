using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Aaf;

/// <summary>Codes of AAF files alone.</summary>
public static class AafCodes
{
    /// <summary>The compound file has no AAF header, or one without content.</summary>
    public static readonly FindingCode NoHeader = new("aaf.no-header");

    /// <summary>The properties say a byte order that is not read.</summary>
    public static readonly FindingCode ByteOrder = new("aaf.byte-order");

    /// <summary>A property is longer than its stream; it and what follows were left out.</summary>
    public static readonly FindingCode PropertyCut = new("aaf.property-cut");

    /// <summary>A curve has an interpolation that is not known; it was taken as linear.</summary>
    public static readonly FindingCode Interpolation = new("aaf.interpolation");
}
