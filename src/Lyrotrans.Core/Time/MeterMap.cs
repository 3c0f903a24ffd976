using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Time;

/// <summary>
/// Meters over the piece. Quarter 0 is bar 1, beat 1. Before the first change its meter holds, back without end; that is
/// where bars 0, −1 … lie.
/// </summary>
public sealed class MeterMap : IEquatable<MeterMap>
{
    private readonly Rational[] _quarterAtChange;

    /// <exception cref="ArgumentException">No meter, bars not ascending, a beat count or unit that is not possible.</exception>
    public MeterMap(ValueArray<MeterChange> changes)
    {
        if (changes.Count == 0)
        {
            throw new ArgumentException("A meter map needs at least one meter.");
        }

        for (var i = 0; i < changes.Count; i++)
        {
            if (changes[i].Beats < 1 || changes[i].BeatUnit < 1)
            {
                throw new ArgumentException($"The meter {changes[i]} at bar {changes[i].Bar} is not possible.");
            }

            if (i > 0 && changes[i].Bar <= changes[i - 1].Bar)
            {
                throw new ArgumentException($"The meter at bar {changes[i].Bar} does not come after the one before it.");
            }
        }

        Changes = changes;
        _quarterAtChange = new Rational[changes.Count];
        for (var i = 1; i < changes.Count; i++)
        {
            _quarterAtChange[i] = _quarterAtChange[i - 1]
                + ((changes[i].Bar - changes[i - 1].Bar) * changes[i - 1].QuartersPerBar);
        }

        var bar1 = StartOfBar(1);
        for (var i = 0; i < changes.Count; i++)
        {
            _quarterAtChange[i] -= bar1;
        }
    }

    /// <summary>4/4 from bar 1.</summary>
    public static MeterMap FourFour { get; } = new([new MeterChange(1, 4, 4)]);

    /// <summary>Ascending by bar; the first reaches back before it.</summary>
    public ValueArray<MeterChange> Changes { get; }

    /// <summary>The place of a bar's first beat, in quarters from bar 1.</summary>
    public Rational StartOfBar(long bar)
    {
        var i = ChangeAtBar(bar);
        return _quarterAtChange[i] + ((bar - Changes[i].Bar) * Changes[i].QuartersPerBar);
    }

    /// <summary>The meter in force in a bar.</summary>
    public MeterChange MeterOfBar(long bar) => Changes[ChangeAtBar(bar)];

    /// <summary>Bar, beat and tick of a place in quarters from bar 1; the tick is exact.</summary>
    public MusicalPosition PositionAt(Rational quarter)
    {
        var i = Changes.Count - 1;
        while (i > 0 && _quarterAtChange[i] > quarter)
        {
            i--;
        }

        var meter = Changes[i];
        var bars = ((quarter - _quarterAtChange[i]) / meter.QuartersPerBar).Floor();
        var inBar = quarter - _quarterAtChange[i] - (new Rational(bars, 1) * meter.QuartersPerBar);
        var beat = (int)(inBar / meter.QuartersPerBeat).Floor();
        var tick = (inBar - (beat * meter.QuartersPerBeat)) * MusicalPosition.TicksPerQuarter;
        return new MusicalPosition(meter.Bar + (long)bars, beat + 1, tick);
    }

    /// <summary>The musical position whose whole tick is nearest; ties go to even. For showing.</summary>
    public MusicalPosition NearestTick(Rational quarter) =>
        PositionAt(new Rational((quarter * MusicalPosition.TicksPerQuarter).RoundToEven(), MusicalPosition.TicksPerQuarter));

    /// <summary>The place of a musical position, in quarters from bar 1; beats beyond the bar run on into the next.</summary>
    public Rational QuarterOf(MusicalPosition position) => StartOfBar(position.Bar)
        + ((position.Beat - 1) * MeterOfBar(position.Bar).QuartersPerBeat)
        + (position.Tick / MusicalPosition.TicksPerQuarter);

    /// <summary>Every beat at or after a place in quarters, ascending, without end.</summary>
    public IEnumerable<Beat> BeatsFrom(Rational quarter)
    {
        for (var bar = PositionAt(quarter).Bar; ; bar++)
        {
            var meter = MeterOfBar(bar);
            var start = StartOfBar(bar);
            for (var beat = 0; beat < meter.Beats; beat++)
            {
                var place = start + (beat * meter.QuartersPerBeat);
                if (place >= quarter)
                {
                    yield return new Beat(place, bar, beat + 1, meter);
                }
            }
        }
    }

    public bool Equals(MeterMap? other) => other is not null && Changes.Equals(other.Changes);

    public override bool Equals(object? obj) => Equals(obj as MeterMap);

    public override int GetHashCode() => Changes.GetHashCode();

    private int ChangeAtBar(long bar)
    {
        var i = Changes.Count - 1;
        while (i > 0 && Changes[i].Bar > bar)
        {
            i--;
        }

        return i;
    }
}
