namespace Lyrotrans.Formats.Wave;

/// <summary>A cue of a WAVE file or a marker of an AIFF file: a sample of the file, its label, and for a span how many samples it has.</summary>
/// <remarks>docs/formats/sound.md, section 4.</remarks>
public sealed record CuePoint(long Id, long Sample, string Label, long Length = 0);
