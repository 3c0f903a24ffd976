using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Handing;

/// <summary>Codes of what can hinder a package on its way into a folder.</summary>
public static class HandingCodes
{
    /// <summary>The folder is not there, or lies outside of what the operator allows.</summary>
    public static readonly FindingCode NoFolder = new("handing.no-folder");

    /// <summary>Something of that name lies there already.</summary>
    public static readonly FindingCode Taken = new("handing.taken");

    /// <summary>What was read back is not what was written.</summary>
    public static readonly FindingCode Differs = new("handing.differs");
}
