using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Clips;

/// <summary>
/// The tracks that are kept as clips, in the terms of a file of clips: what a reader must find again, the media that it refers to, and what
/// had to give way.
/// </summary>
public sealed record ClipPlan
{
    /// <summary>The session as the file says it; its media are those of <see cref="Media"/>.</summary>
    public required Session Session { get; init; }

    /// <summary>The group of tracks that the file is of; empty where it is of all.</summary>
    public string Label { get; init; } = string.Empty;

    /// <summary>The media that the file refers to or holds.</summary>
    public required ValueArray<ClipMedia> Media { get; init; }

    /// <summary>Handles that the media are too short for.</summary>
    public required ValueArray<ClipShortfall> Shortfalls { get; init; }

    /// <summary>Clips whose sound lies off its place by part of a sample: media of another rate that go whole.</summary>
    public required ValueArray<ClipShift> Shifts { get; init; }

    /// <summary>What the form cannot hold as it is, what became of it, and by how much it is off.</summary>
    public required ValueArray<string> Notes { get; init; }

    /// <summary>The session's tracks that are kept as clips, and the tracks of <see cref="Session"/> that each became.</summary>
    public required ValueArray<(string TrackId, ValueArray<string> Became)> Tracks { get; init; }

    /// <summary>Plans the file of clips of a session, whether or not any track keeps its clips.</summary>
    public static ClipPlan Make(Session session, Preparation preparation) => new ClipPlanner(session, preparation).Make();

    /// <summary>Whether any track keeps its clips, so that there is a file of clips.</summary>
    public static bool IsWanted(Preparation preparation) => preparation.Tracks.Any(c => c.Treatment == Treatment.KeepClips);
}
