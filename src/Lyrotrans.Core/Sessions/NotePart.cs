using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>
/// A span of notes on a track. It lies at a place in quarters from bar 1; its events count ticks from its own start, in
/// its own ticks per quarter, so that nothing is requantised. Only what lies within its length sounds.
/// </summary>
public sealed record NotePart
{
    /// <summary>Unique in the session.</summary>
    public required string Id { get; init; }

    /// <summary>As people call it; it need not be unique.</summary>
    public required string Name { get; init; }

    /// <summary>In quarters from bar 1; it may lie before it.</summary>
    public Rational StartQuarter { get; init; }

    /// <summary>In quarters.</summary>
    public Rational LengthQuarters { get; init; }

    /// <summary>What its events count in.</summary>
    public int TicksPerQuarter { get; init; } = 480;

    /// <summary>Ascending by tick, then channel, then key.</summary>
    public ValueArray<Note> Notes { get; init; }

    /// <summary>Ascending by tick.</summary>
    public ValueArray<NoteControl> Controls { get; init; }

    /// <summary>Whether it makes no sound.</summary>
    public bool Muted { get; init; }

    /// <summary>In quarters from bar 1.</summary>
    public Rational EndQuarter => StartQuarter + LengthQuarters;
}
