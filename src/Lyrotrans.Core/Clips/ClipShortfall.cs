namespace Lyrotrans.Core.Clips;

/// <summary>A handle that the media are too short for.</summary>
/// <param name="Before">Before the clip, or after it.</param>
/// <param name="Wanted">In session samples.</param>
/// <param name="Has">In session samples, not below zero.</param>
public sealed record ClipShortfall(string Track, string Clip, bool Before, long Wanted, long Has);
