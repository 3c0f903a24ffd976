namespace Lyrotrans.Workflow.Intake;

/// <summary>Where an item came to lie (session samples; null where it has no place) and the reason.</summary>
public sealed record PlacedItem(long? Sample, string Reason);
