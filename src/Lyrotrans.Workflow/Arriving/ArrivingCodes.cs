using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>Codes of what can hinder a comparison with what was sent.</summary>
public static class ArrivingCodes
{
    /// <summary>More than one session was given where one is compared.</summary>
    public static readonly FindingCode Several = new("arriving.several");

    /// <summary>The package that a comparison is made with is not kept any more.</summary>
    public static readonly FindingCode NothingSent = new("arriving.nothing-sent");
}
