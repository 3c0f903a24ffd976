namespace Lyrotrans.Workflow.Hearing;

/// <summary>A place in a sound that is worth listening to.</summary>
/// <param name="Kind">Why.</param>
/// <param name="Sample">Where, in samples of the sound.</param>
/// <param name="Db">The level there in dBFS, for a peak and a difference; null for others.</param>
public sealed record EarPlace(EarPlaceKind Kind, long Sample, double? Db = null);
