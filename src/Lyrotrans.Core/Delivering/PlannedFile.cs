namespace Lyrotrans.Core.Delivering;

/// <summary>A file that a build will write.</summary>
/// <param name="Path">Inside the package, with <c>/</c>.</param>
/// <param name="TrackId">For a from-zero file, its track.</param>
/// <param name="Frames">For a from-zero file, its length in samples.</param>
/// <param name="Bytes">Known or estimated size.</param>
public sealed record PlannedFile(string Path, PlannedKind Kind, string? TrackId = null, int Channels = 0, long Frames = 0, long Bytes = 0);
