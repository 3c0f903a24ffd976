using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>Where a session's clicks lie: every beat of the meter map, on the nearest sample, ramps included.</summary>
public static class ClickTrack
{
    // General MIDI percussion: high and low wood block on channel 10.
    private const int AccentKey = 76;
    private const int BeatKey = 77;
    private const int PercussionChannel = 10;
    private const int Ticks = 480;

    /// <summary>
    /// The session sample at which a count-in begins: so many whole bars before the bar that holds the start. Where the start
    /// lies inside its bar (a pick-up), the beats before it in that bar are counted too.
    /// </summary>
    public static long CountInStart(Session session, long start, int bars)
    {
        var clock = session.Clock;
        var bar = BarOf(session, start);
        return clock.SampleAt(session.Meters.StartOfBar(bar - bars));
    }

    /// <summary>What its file is called: <c>Click 92</c>, or <c>Click 66 to 116</c> where the tempo changes; in quarters a minute.</summary>
    public static string NameOf(Session session)
    {
        static string Number(double tempo) => tempo.ToString("0.##", CultureInfo.InvariantCulture);
        var (slowest, fastest) = (session.Tempo.Points.Min(p => p.QuartersPerMinute.ToDouble()), session.Tempo.Points.Max(p => p.QuartersPerMinute.ToDouble()));
        return Number(slowest) == Number(fastest) ? $"Click {Number(slowest)}" : $"Click {Number(slowest)} to {Number(fastest)}";
    }

    /// <summary>Clicks within a range, ascending.</summary>
    public static IReadOnlyList<ClickBeat> Beats(Session session, ClickChoices choices, SampleRange range)
    {
        var clock = session.Clock;
        var from = session.Meters.StartOfBar(BarOf(session, range.Start));
        return session.Meters.BeatsFrom(from)
            .SelectMany(b => Enumerable.Range(0, Math.Max(1, choices.Parts)).Select(part => (Beat: b with { Quarter = b.Quarter + (b.Meter.QuartersPerBeat * new Rational(part, choices.Parts)) }, part)))
            .Select(b => new ClickBeat(clock.SampleAt(b.Beat.Quarter), b.Beat, b.part > 0 ? ClickStrength.Part : choices.PatternOf(b.Beat.Meter).StrengthOf(b.Beat.Number)))
            .SkipWhile(b => b.Sample < range.Start)
            .TakeWhile(b => b.Sample < range.End)
            .ToList();
    }

    /// <summary>The same clicks as a notes track with one part.</summary>
    public static Track Notes(Session session, ClickChoices choices, SampleRange range)
    {
        var beats = Beats(session, choices, range);
        var start = beats.Count > 0 ? beats[0].Beat.Quarter : 0;
        var ticks = beats.Aggregate(1L, (all, b) => Common(all, (long)(b.Beat.Quarter - start).Denominator));
        var perQuarter = (int)(Ticks * ticks <= MidiDivision.Largest ? Ticks * ticks : Ticks);
        var notes = beats.Select(b => new Note(
            ((b.Beat.Quarter - start) * perQuarter).RoundToEven(), Math.Max(1, perQuarter / 16), PercussionChannel,
            b.Strength is ClickStrength.Beat or ClickStrength.Part ? BeatKey : AccentKey, b.Strength switch { ClickStrength.Bar => 120, ClickStrength.Group => 100, ClickStrength.Beat => 80, _ => 50 }));
        var last = beats.Count > 0 ? beats[^1].Beat.Quarter + beats[^1].Beat.Meter.QuartersPerBeat : start;
        var part = new NotePart
        {
            Id = "click",
            Name = "Click",
            StartQuarter = start,
            LengthQuarters = last - start,
            TicksPerQuarter = perQuarter,
            Notes = notes.ToValueArray(),
        };
        return new Track { Id = "click", Name = "Click", Kind = TrackKind.Notes, Channels = 0, Parts = [part] };
    }

    // A start that rounding put a hair before its bar line belongs to the bar.
    private static long BarOf(Session session, long sample)
    {
        var position = session.Meters.PositionAt(session.Clock.QuarterAt(sample));
        return session.Clock.SampleAt(session.Meters.StartOfBar(position.Bar + 1)) <= sample ? position.Bar + 1 : position.Bar;
    }

    private static long Common(long a, long b) => Math.Min(MidiDivision.Largest, a / (long)System.Numerics.BigInteger.GreatestCommonDivisor(a, b) * b);
}
