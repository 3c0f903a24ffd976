using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Handing;

/// <summary>Codes of what can hinder a package on its way into a folder.</summary>
public static class HandingCodes
{
    /// <summary>A folder that a package should go into is not there, or leads out of what the operator allows.</summary>
    public static readonly FindingCode NoFolder = new("handing.no-folder");

    /// <summary>Something of a package's name lies in its folder already.</summary>
    public static readonly FindingCode Taken = new("handing.taken");

    /// <summary>What was read back from a folder is not what was written there.</summary>
    public static readonly FindingCode Differs = new("handing.differs");
}
