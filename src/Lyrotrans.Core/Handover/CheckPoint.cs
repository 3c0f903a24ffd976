namespace Lyrotrans.Core.Handover;

/// <summary>A place that can be read in any program once a package is brought in: the same number is the proof.</summary>
/// <param name="Track">The track as it is called where it arrives.</param>
/// <param name="What">The clip or note, by its name.</param>
/// <param name="IsFirst">Whether it is the track's first; else it is the last.</param>
/// <param name="Sample">From the start of the new session on, in samples of <paramref name="Rate"/>; below 0 where it lies before that.</param>
/// <param name="Rate">Samples a second, as people say it.</param>
/// <param name="Timecode">The same place as a clock time.</param>
/// <param name="Bar">The same place as bar.beat.tick.</param>
/// <param name="GainDb">The clip's gain where it arrives as a clip; null where it is in the sound, or for a note.</param>
public sealed record CheckPoint(string Track, string What, bool IsFirst, long Sample, string Rate, string Timecode, string Bar, double? GainDb);
