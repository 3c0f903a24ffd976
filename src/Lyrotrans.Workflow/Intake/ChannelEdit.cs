using Lyrotrans.Core.Pairing;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A decision about channels: mono tracks joined to one, or one split.</summary>
/// <param name="Tracks">Their identifiers; one where it is split.</param>
/// <param name="Name">Of the joined track; null where one is split.</param>
/// <param name="Media">The files that were made for it.</param>
/// <param name="Into">For one that is split, the tracks that its channels become; none is a mono track for each.</param>
public sealed record ChannelEdit(IReadOnlyList<string> Tracks, string? Name, IReadOnlyList<JoinedMedium> Media, IReadOnlyList<ChannelGroup>? Into = null);
