using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Arriving;

/// <summary>A clip of either side, in the terms of what was sent. Two that are alike are two.</summary>
/// <param name="track">That it lies on.</param>
/// <param name="clip">As its own side says it.</param>
/// <param name="media">The sent medium that its sound is of; null where that is not known.</param>
/// <param name="basis">By what that is known; for a sent clip by its sound.</param>
internal sealed class ArrivalClip(Track track, Clip clip, string? media, ArrivalBasis basis)
{
    /// <summary>That it lies on.</summary>
    public Track Track => track;

    /// <summary>As its own side says it.</summary>
    public Clip Clip => clip;

    /// <summary>The sent medium that its sound is of; null where that is not known.</summary>
    public string? Media => media;

    /// <summary>By what that is known.</summary>
    public ArrivalBasis Basis => basis;

    /// <summary>In samples of the sent rate, from the start of its own side's session.</summary>
    public required long Start { get; init; }

    /// <summary>In samples of the sent rate.</summary>
    public required long Length { get; init; }

    /// <summary>Where it begins in the sent medium, in that medium's own samples.</summary>
    public required long Source { get; init; }

    /// <summary>Clip and track by their names.</summary>
    public string Name => $"{track.Name}, {clip.Name}";
}
