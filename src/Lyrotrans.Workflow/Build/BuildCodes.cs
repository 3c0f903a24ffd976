using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Build;

/// <summary>Codes of what cannot be built.</summary>
public static class BuildCodes
{
    /// <summary>What was asked for cannot be made; nothing was.</summary>
    public static readonly FindingCode NotPossible = new("build.not-possible");
}
