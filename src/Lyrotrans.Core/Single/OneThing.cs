using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Single;

/// <summary>One thing of a session, to be taken alone: a clip, a part, or what a track has in a range.</summary>
/// <param name="TrackId">The track that it is on.</param>
/// <param name="ClipId">A clip of any of its takes; null for none.</param>
/// <param name="PartId">A part of its notes; null for none.</param>
/// <param name="Range">In session samples: of a clip or part a piece, of a track what it has there; null for all of it.</param>
/// <param name="Form">As what.</param>
public sealed record OneThing(string TrackId, string? ClipId, string? PartId, SampleRange? Range, OneForm Form);
