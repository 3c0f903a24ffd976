namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>What a source clip refers to.</summary>
/// <param name="Mob">The mob's identifier; null for the end of a chain.</param>
/// <param name="Slot">The slot of that mob.</param>
/// <param name="Start">In units of the slot that holds the clip.</param>
/// <param name="Channel">From 1; 0 where nothing is said.</param>
internal readonly record struct ChainSource(string? Mob, long Slot, long Start, int Channel);
