using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>One track, bus, return or master.</summary>
public sealed record Track
{
    /// <summary>Stable through every revision.</summary>
    public required string Id { get; init; }

    public required string Name { get; init; }

    public TrackKind Kind { get; init; }

    public int Channels { get; init; } = 1;

    public TrackState State { get; init; }

    public bool Soloed { get; init; }

    /// <summary>In dB; 0 is unity.</summary>
    public double FaderDb { get; init; }

    public Automation? FaderAutomation { get; init; }

    /// <summary>−1 left, 0 centre, 1 right.</summary>
    public double Pan { get; init; }

    public Automation? PanAutomation { get; init; }

    /// <summary>Whether its polarity is inverted, before its effects.</summary>
    public bool Inverted { get; init; }

    /// <summary>Id of the bus or master it feeds; none means the master.</summary>
    public string? Output { get; init; }

    public ValueArray<Send> Sends { get; init; }

    public ValueArray<Insert> Inserts { get; init; }

    public ValueArray<Lane> Lanes { get; init; }

    /// <summary>Which lane sounds.</summary>
    public int SoundingLane { get; init; }

    public ValueArray<NotePart> Parts { get; init; }

    public Lane? Sounding => SoundingLane < Lanes.Count ? Lanes[SoundingLane] : null;

    /// <summary>Whether it has clips that sound or notes that do.</summary>
    public bool HasContent => (Sounding?.Clips.Any(c => !c.Muted) ?? false) || Parts.Any(p => !p.Muted && p.Notes.Count > 0);
}
