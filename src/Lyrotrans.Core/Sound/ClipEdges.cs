namespace Lyrotrans.Core.Sound;

/// <summary>How a clip's sound begins and ends.</summary>
/// <param name="First">At its start.</param>
/// <param name="Last">At its end.</param>
public sealed record ClipEdges(EdgeSound First, EdgeSound Last);
