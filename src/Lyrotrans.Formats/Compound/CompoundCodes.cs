using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Compound;

/// <summary>Codes of compound files.</summary>
public static class CompoundCodes
{
    /// <summary>The file has no header of a compound file, or one with impossible numbers.</summary>
    public static readonly FindingCode BadHeader = new("compound.bad-header");

    /// <summary>The directory has no root, or its tree leaves it or comes back to itself.</summary>
    public static readonly FindingCode BadDirectory = new("compound.bad-directory");

    /// <summary>A chain of sectors leaves the file, comes back to itself, or ends too early.</summary>
    public static readonly FindingCode BadChain = new("compound.bad-chain");
}
