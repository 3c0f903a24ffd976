using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>
/// A span of notes on a track. It lies at a place in quarters from bar 1; its events count ticks from its own start, in
/// its own ticks per quarter, so that nothing is requantised. Only what lies within its length sounds.
/// </summary>
public sealed record NotePart
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    public Rational StartQuarter { get; init; }

    public Rational LengthQuarters { get; init; }

    public int TicksPerQuarter { get; init; } = 480;

    /// <summary>Ascending by tick, then channel, then key.</summary>
    public ValueArray<Note> Notes { get; init; }

    /// <summary>Ascending by tick.</summary>
    public ValueArray<NoteControl> Controls { get; init; }

    public bool Muted { get; init; }

    public Rational EndQuarter => StartQuarter + LengthQuarters;
}
