using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Pairing;

/// <summary>Codes of pairs of tracks.</summary>
public static class PairCodes
{
    /// <summary>The tracks cannot be joined.</summary>
    public static readonly FindingCode NotJoined = new("pairs.not-joined");
}
