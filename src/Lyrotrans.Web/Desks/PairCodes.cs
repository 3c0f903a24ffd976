using Lyrotrans.Core.Findings;

namespace Lyrotrans.Web.Desks;

/// <summary>Codes of pairs of tracks.</summary>
public static class PairCodes
{
    /// <summary>The tracks cannot be joined.</summary>
    public static readonly FindingCode NotJoined = new("pairs.not-joined");
}
