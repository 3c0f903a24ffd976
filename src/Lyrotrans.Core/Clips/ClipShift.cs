namespace Lyrotrans.Core.Clips;

/// <summary>A clip whose first sample lies between two samples of its converted medium.</summary>
/// <param name="Samples">By how much its sound comes too early, in session samples; below 0 too late. At most half a sample.</param>
public sealed record ClipShift(string Track, string Clip, double Samples);
