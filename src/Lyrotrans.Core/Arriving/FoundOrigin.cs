namespace Lyrotrans.Core.Arriving;

/// <summary>Where the sound of a medium of the other side lies in one that was sent.</summary>
/// <param name="Media">The sent medium, by its id.</param>
/// <param name="Offset">The sample of the sent medium that its first sample is; in the sent medium's own samples.</param>
/// <param name="Basis">By what it was found.</param>
/// <param name="IsChanged">Whether its sound lies there, and not all of it is what was sent.</param>
public sealed record FoundOrigin(string Media, long Offset, ArrivalBasis Basis, bool IsChanged = false);
