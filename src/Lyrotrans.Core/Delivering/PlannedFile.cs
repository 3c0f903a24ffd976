namespace Lyrotrans.Core.Delivering;

/// <summary>A file that a build will write.</summary>
/// <param name="Path">Inside the package, with <c>/</c>.</param>
/// <param name="TrackId">The track, for a from-zero file or the MIDI file of one part.</param>
/// <param name="Frames">For sound, its length in samples.</param>
/// <param name="Bytes">Known or estimated size.</param>
/// <param name="PartId">For the MIDI file of one part, that part.</param>
/// <param name="Part">Which of several files of clips, from 0.</param>
/// <param name="MediaId">For a medium beside a file of clips, its identifier there.</param>
public sealed record PlannedFile(
    string Path, PlannedKind Kind, string? TrackId = null, int Channels = 0, long Frames = 0, long Bytes = 0, string? PartId = null, string? MediaId = null, int Part = 0)
{
    public bool IsSound => Kind is PlannedKind.FromZero or PlannedKind.Click;
}
