using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>A file that a build will write.</summary>
/// <param name="Path">Inside the package, with <c>/</c>.</param>
/// <param name="TrackId">The track, for a from-zero file or the MIDI file of one part.</param>
/// <param name="Frames">For sound, its length in samples.</param>
/// <param name="Bytes">Known or estimated size.</param>
/// <param name="PartId">For the MIDI file of one part, that part.</param>
/// <param name="Part">Which of several files of clips, from 0.</param>
/// <param name="Channel">For a file of one channel of several, which, from 0.</param>
/// <param name="Group">For a stem, its group.</param>
/// <param name="Of">For a listening copy, the path of the file that it is a copy of.</param>
/// <param name="MediaId">For a medium beside a file of clips, its identifier there.</param>
public sealed record PlannedFile(
    string Path, PlannedKind Kind, string? TrackId = null, int Channels = 0, long Frames = 0, long Bytes = 0, string? PartId = null, string? MediaId = null, int Part = 0, int? Channel = null, string? Group = null, string? Of = null)
{
    /// <summary>Whether it is a from-zero file of sound, of a track, a group, the mix or the click.</summary>
    public bool IsSound => Kind is PlannedKind.FromZero or PlannedKind.Click or PlannedKind.Stem or PlannedKind.GuideMix or PlannedKind.FinishedMix;

    /// <summary>Whether it is a mix, of all or of a group.</summary>
    public bool IsMix => Kind is PlannedKind.Stem or PlannedKind.GuideMix or PlannedKind.FinishedMix;

    /// <summary>How a file of sound is made; null for every other.</summary>
    public FileForm? Form { get; init; }

    /// <summary>How a file of sound is made.</summary>
    /// <exception cref="InvalidOperationException">It is none.</exception>
    public FileForm Made => Form ?? throw new InvalidOperationException($"{Path} is no file of sound.");

    /// <summary>What a file of sound covers, in samples of its own rate from session start on.</summary>
    public SampleRange Span { get; init; }
}
