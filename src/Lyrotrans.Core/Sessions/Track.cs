using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>One track, bus, return or master, or sound that was made elsewhere of them.</summary>
public sealed record Track
{
    /// <summary>Stable through every revision.</summary>
    public required string Id { get; init; }

    /// <summary>As people call it; it need not be unique.</summary>
    public required string Name { get; init; }

    /// <summary>What it is: sound, notes, a bus, a return, the master or the picture; or a print, a stem, a mix or a click that came along.</summary>
    public TrackKind Kind { get; init; }

    /// <summary>Of its sound; 0 where it says none.</summary>
    public int Channels { get; init; } = 1;

    /// <summary>Ids of what sound that was made elsewhere stands for: the one track, bus or return of a print, or the tracks and buses of a stem.</summary>
    public ValueArray<string> Of { get; init; }

    /// <summary>For a print, what of its track it has in it besides the effects.</summary>
    public PrintHolds Holds { get; init; }

    /// <summary>Whether it sounds, and if not, why.</summary>
    public TrackState State { get; init; }

    /// <summary>Whether it was soloed; that is kept as a record, and mutes nothing here.</summary>
    public bool Soloed { get; init; }

    /// <summary>In dB; 0 is unity.</summary>
    public double FaderDb { get; init; }

    /// <summary>In dB over session samples; adds to <see cref="FaderDb"/>.</summary>
    public Automation? FaderAutomation { get; init; }

    /// <summary>−1 left, 0 centre, 1 right.</summary>
    public double Pan { get; init; }

    /// <summary>−1 to 1 over session samples; where it is there, it is in force instead of <see cref="Pan"/>.</summary>
    public Automation? PanAutomation { get; init; }

    /// <summary>Whether its polarity is inverted, before its effects.</summary>
    public bool Inverted { get; init; }

    /// <summary>Id of the bus or master it feeds; none means the master.</summary>
    public string? Output { get; init; }

    /// <summary>In their order.</summary>
    public ValueArray<Send> Sends { get; init; }

    /// <summary>Its effects, in the order in which sound passes them.</summary>
    public ValueArray<Insert> Inserts { get; init; }

    /// <summary>Its takes; one of them sounds.</summary>
    public ValueArray<Lane> Lanes { get; init; }

    /// <summary>Which lane sounds.</summary>
    public int SoundingLane { get; init; }

    /// <summary>Its notes; parts may lie over each other.</summary>
    public ValueArray<NotePart> Parts { get; init; }

    /// <summary>What somebody says of it to whoever works on; empty for nothing.</summary>
    public string Note { get; init; } = string.Empty;

    /// <summary>The lane that sounds; null where there is none.</summary>
    public Lane? Sounding => SoundingLane < Lanes.Count ? Lanes[SoundingLane] : null;

    /// <summary>Whether it has clips that sound or notes that do.</summary>
    public bool HasContent => (Sounding?.Clips.Any(c => !c.Muted) ?? false) || Parts.Any(p => !p.Muted && p.Notes.Count > 0);
}
