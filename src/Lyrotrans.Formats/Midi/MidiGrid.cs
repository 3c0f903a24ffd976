using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// The tick grid of a session's MIDI files. Tick 0 is the first sample of the delivered range; the grid begins a whole number
/// of quarters before bar 1, so that bar lines stay on whole beats. Where the range does not begin on a beat, its first quarter
/// is played faster, and what lies in it takes the tick of its time, so that everything keeps its sample.
/// </summary>
public sealed class MidiGrid
{
    // Bounds for sessions that no one plays: about ten hours of sixteenths, and a ramp of three.
    private const int MostBeats = 400_000;
    private const int MostRampSteps = 100_000;
    private readonly Session _session;
    private readonly MusicalClock _clock;
    private readonly MidiStart _start;
    private List<CheckPoint>? _checkPoints;
    private Rational? _rounding;

    /// <param name="session">The session.</param>
    /// <param name="start">Session sample of tick 0.</param>
    public MidiGrid(Session session, long start)
    {
        (_session, _clock, _start) = (session, session.Clock, new MidiStart(session, start));
    }

    /// <summary>Session sample of tick 0.</summary>
    public long Start => _start.Start;

    /// <summary>Ticks per quarter.</summary>
    public int Division => _start.Division;

    /// <summary>Quarters from tick 0 to bar 1; below zero where the range begins after bar 1.</summary>
    public long Lead => _start.Lead;

    /// <summary>Whether tick 0 is a quarter of the session's own grid; if not, the first quarter is played faster.</summary>
    public bool BeginsOnBeat => _start.BeginsOnBeat;

    /// <summary>The first quarter that lies on a whole beat of the file; what comes before it takes the tick of its time.</summary>
    public long First => BeginsOnBeat ? -Lead : 1 - Lead;

    /// <summary>The tempo of the first quarter, in quarters a minute.</summary>
    public double FirstTempo => 60 / _start.FirstQuarterSeconds.ToDouble();

    /// <summary>Seconds from tick 0 to a place in quarters from bar 1, as the session has it.</summary>
    public Rational SecondsAt(Rational quarter) => _start.SecondsAt(quarter);

    /// <summary>The nearest tick to a place in quarters from bar 1; below zero before the range.</summary>
    public long Tick(Rational quarter) => _start.Tick(quarter);

    /// <summary>The nearest tick to a session sample.</summary>
    public long TickOfSample(long sample) => Tick(_clock.QuarterAt(sample));

    /// <summary>One past the last tick of anything: of the session, but never before tick 0.</summary>
    public long EndTick => Math.Max(0, Tick(EndQuarter));

    /// <summary>The end of the session, in quarters from bar 1.</summary>
    public Rational EndQuarter => _clock.QuarterAt(Math.Max(_session.EndSample, Start));

    /// <summary>
    /// Where tempo must be right, in quarters from bar 1, ascending: every beat from <see cref="First"/> up to the end of the session
    /// and of the map, every tempo, every sixteenth of a ramp, and every note, controller and marker within one. Between two of these
    /// both maps are straight lines, or nothing lies there, so that everything else is as near as they are.
    /// </summary>
    public IReadOnlyList<CheckPoint> CheckPoints => _checkPoints ??= MakeCheckPoints(First, EventsInRamps());

    /// <summary>The same without what lies in ramps, from the first quarter's end on: where tempo was right in files of earlier forms.</summary>
    public IReadOnlyList<CheckPoint> Beats => MakeCheckPoints(1 - Lead, []);

    /// <summary>The longest time from a note, controller or marker to the tick that it takes, in seconds.</summary>
    public Rational Rounding => _rounding ??= Events().Select(RoundingAt).Append(0).Max();

    private Rational RoundingAt(Rational quarter)
    {
        var tick = Tick(quarter);
        if (tick < 0 || (quarter >= First && (quarter + Lead) * Division == tick))
        {
            return 0;
        }

        var taken = quarter < First ? _start.FirstQuarterSeconds * tick / Division : SecondsAt(QuarterOf(tick));
        var distance = taken - SecondsAt(quarter);
        return distance.Sign < 0 ? -distance : distance;
    }

    private Rational QuarterOf(long tick) => new Rational(tick, Division) - Lead;

    /// <summary>The place of everything that becomes an event: notes with their ends, controllers, and markers with theirs.</summary>
    private IEnumerable<Rational> Events() => _session.Tracks.SelectMany(t => t.Parts).SelectMany(Events)
        .Concat(_session.Markers.SelectMany(m => new[] { m.Sample, m.Sample + m.Length }).Select(s => _clock.QuarterAt(s)));

    private static IEnumerable<Rational> Events(NotePart part)
    {
        // What sounds on at a part's end is closed there.
        var ticks = part.Notes.SelectMany(n => new[] { n.Tick, n.Tick + n.Length }).Concat(part.Controls.Select(c => c.Tick)).ToHashSet();
        return ticks.Select(t => part.StartQuarter + new Rational(t, part.TicksPerQuarter)).Where(q => q < part.EndQuarter).Append(part.EndQuarter);
    }

    // As ticks, because there they are written.
    private IEnumerable<Rational> EventsInRamps() => Events().Where(q => q > First && _session.Tempo.MovesAt(q)).Select(Tick).ToHashSet().Select(QuarterOf);

    private List<CheckPoint> MakeCheckPoints(Rational first, IEnumerable<Rational> events)
    {
        var end = new[] { first, EndQuarter, _session.Tempo.Points[^1].Quarter }.Max();
        var beats = _session.Meters.BeatsFrom(first).TakeWhile(b => b.Quarter <= end).Take(MostBeats).Select(b => b.Quarter);
        var changes = _session.Tempo.Points.Select(p => p.Quarter).Concat(RampSteps()).Concat(events).Where(q => q > first);
        List<Rational> places = [first, .. beats, .. changes];
        places.Sort();

        // One beat past the last, so that its tempo is said too.
        places.Add(places[^1] + _session.Meters.MeterOfBar(_session.Meters.PositionAt(places[^1]).Bar).QuartersPerBeat);
        return [.. places.Where((q, i) => i == 0 || q != places[i - 1]).Select(q => new CheckPoint(q, (q + Lead) * Division, SecondsAt(q)))];
    }

    /// <summary>Every sixteenth within a ramp, from its beginning on; a very long one in fewer steps.</summary>
    public IEnumerable<Rational> RampSteps() => AllRampSteps().Take(MostBeats);

    private IEnumerable<Rational> AllRampSteps()
    {
        var points = _session.Tempo.Points;
        for (var i = 0; i + 1 < points.Count; i++)
        {
            var length = points[i + 1].Quarter - points[i].Quarter;
            var step = length * 4 > MostRampSteps ? length / MostRampSteps : new Rational(1, 4);
            for (var quarter = points[i].Quarter; points[i].Ramp && quarter < points[i + 1].Quarter; quarter += step)
            {
                yield return quarter;
            }
        }
    }
}
