using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Storage.Revisions;

/// <summary>Somebody else changed the transfer first; nothing was overwritten.</summary>
public sealed class RevisionConflictException(string by, int number, string words)
    : Exception($"{by} made revision {number} in the meantime ({words}). Nothing of yours was saved over it: look at it, then make your change again."), ISaid
{
    public Finding Finding => new(RevisionCodes.Conflict, $"revision {number}", Message);
}
