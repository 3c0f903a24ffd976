using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Where the MIDI files of a session begin, and so which tick a place takes. Tick 0 is the first sample of the delivered range; the grid begins a whole number of quarters before bar 1.</summary>
public sealed class MidiStart
{
    private readonly Session _session;
    private readonly MusicalClock _clock;

    /// <param name="session">The session.</param>
    /// <param name="start">Session sample of tick 0.</param>
    public MidiStart(Session session, long start)
    {
        (_session, _clock, Start, Division) = (session, session.Clock, start, MidiDivision.Of(session));

        // A start that is half a sample or half a tick off a beat is on it: it was rounded.
        var (byTick, bySample) = (_clock.QuarterAt(start) + new Rational(1, 2L * Division), _clock.QuarterAt(start + new Rational(1, 2)));
        var latest = byTick > bySample ? byTick : bySample;
        Lead = (long)(-latest).Ceiling();
        FirstQuarterSeconds = SecondsAt(1 - Lead);
        BeginsOnBeat = _clock.QuarterAt(start) - (latest - _clock.QuarterAt(start)) <= -Lead;
    }

    /// <summary>Session sample of tick 0.</summary>
    public long Start { get; }

    /// <summary>Ticks per quarter.</summary>
    public int Division { get; }

    /// <summary>Quarters from tick 0 to bar 1; below zero where the range begins after bar 1.</summary>
    public long Lead { get; }

    /// <summary>Whether tick 0 is a quarter of the session's own grid; if not, the first quarter is played faster.</summary>
    public bool BeginsOnBeat { get; }

    /// <summary>How long the first quarter is.</summary>
    public Rational FirstQuarterSeconds { get; }

    /// <summary>Seconds from tick 0 to a place in quarters from bar 1, as the session has it.</summary>
    public Rational SecondsAt(Rational quarter) => _session.Rate.SecondsOf(_clock.ExactSampleAt(quarter) - Start);

    /// <summary>The nearest tick to a place in quarters from bar 1; below zero before the range.</summary>
    public long Tick(Rational quarter)
    {
        var place = quarter + Lead;
        if (!BeginsOnBeat && place.Sign > 0 && place < 1)
        {
            place = SecondsAt(quarter) / FirstQuarterSeconds;
        }

        return (place * Division).RoundToEven();
    }
}
