using Lyrotrans.Core.Findings;

namespace Lyrotrans.Storage.Revisions;

/// <summary>Codes of changes that were refused.</summary>
public static class RevisionCodes
{
    /// <summary>Somebody else changed the transfer first; nothing was overwritten.</summary>
    public static readonly FindingCode Conflict = new("revision.conflict");
}
