using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Carrying;

/// <summary>One thing of the session, and what becomes of it in each column of the carry plan.</summary>
public sealed record CarryObject(string Name, ValueArray<Fate> Fates)
{
    /// <summary>The track that it is on; null where it is the session's own.</summary>
    public string? TrackId { get; init; }

    /// <summary>The best that some columns do for it; held back where they do nothing.</summary>
    /// <param name="columns">By their numbers, from 0.</param>
    public Fate Best(IEnumerable<int> columns)
    {
        var fates = columns.Select(c => Fates[c]).ToHashSet();
        return fates.Contains(Fate.Carried) ? Fate.Carried : fates.Contains(Fate.Converted) ? Fate.Converted : fates.Contains(Fate.Printed) ? Fate.Printed : Fate.HeldBack;
    }
}
