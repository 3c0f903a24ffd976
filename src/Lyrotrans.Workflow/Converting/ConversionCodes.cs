using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Converting;

/// <summary>Codes of conversions.</summary>
public static class ConversionCodes
{
    /// <summary>The name of the output says no form that can be written.</summary>
    public static readonly FindingCode UnknownForm = new("convert.unknown-form");

    /// <summary>No track would be in the file.</summary>
    public static readonly FindingCode NoTracks = new("convert.no-tracks");
}
