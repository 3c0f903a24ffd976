using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Carrying;

/// <summary>One thing of the session, and what becomes of it in each column of the carry plan.</summary>
public sealed record CarryObject(string Name, ValueArray<Fate> Fates)
{
    /// <summary>The track that it is on; null where it is the session's own.</summary>
    public string? TrackId { get; init; }
}
