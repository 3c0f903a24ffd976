namespace Lyrotrans.Core.Flags;

/// <summary>Something that would go wrong, and where.</summary>
/// <param name="Code">Stable, for tests and filters, such as <c>hidden-track</c>.</param>
/// <param name="Sample">Where to look, in session samples.</param>
public sealed record Flag(string Code, FlagCost Cost, string Title, string Detail, string? TrackId = null, string? ClipId = null, long? Sample = null);
