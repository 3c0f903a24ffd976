namespace Lyrotrans.Formats.Wave;

/// <summary>A cue of a WAVE file or a marker of an AIFF file: a sample of the file, and its label.</summary>
public sealed record CuePoint(long Id, long Sample, string Label);
