using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Midi;

/// <summary>A Standard MIDI File as it stands, with what was wrong in it.</summary>
public sealed record SmfFile
{
    /// <summary>0, 1 or 2.</summary>
    public int Type { get; init; } = 1;

    /// <summary>Ticks per quarter note; 0 where the division is SMPTE.</summary>
    public int TicksPerQuarter { get; init; } = 480;

    /// <summary>For an SMPTE division: 24, 25, 29 (29.97 drop) or 30; else 0.</summary>
    public int FramesPerSecond { get; init; }

    /// <summary>Where the file counts frames and not quarters; 0 otherwise.</summary>
    public int TicksPerFrame { get; init; }

    /// <summary>In the file's order.</summary>
    public ValueArray<SmfTrack> Tracks { get; init; }

    /// <summary>What was met and could not be used.</summary>
    public ValueArray<Finding> Findings { get; init; }
}
