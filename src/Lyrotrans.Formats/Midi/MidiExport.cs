using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// Makes the one type 1 file of a session: a conductor track with tempo, meters, keys, markers and start timecode, and one
/// track per notes track with its unmuted parts joined. Tick 0 is the first sample of the delivered range.
/// </summary>
/// <remarks>
/// The bar grid of the file begins a whole number of quarters before bar 1, so that bar lines stay on whole beats. Where the
/// range does not begin on a beat, the quarter in which it begins is played faster, so that every later beat keeps its
/// sample. Notes keep their ticks. Tempo is held in whole microseconds per quarter, as the format has it.
/// </remarks>
public sealed class MidiExport
{
    private const int LargestDivision = 32_767;
    private const int SlowestTempo = 0xFFFFFF;
    private readonly Session _session;
    private readonly long _start;
    private readonly MusicalClock _clock;
    private readonly int _division;

    // Quarters from tick 0 to bar 1; below zero where the range begins after bar 1.
    private readonly long _lead;

    private MidiExport(Session session, long start)
    {
        _session = session;
        _start = start;
        _clock = session.Clock;
        _division = Division(session);
        var half = new Rational(1, 2L * _division);
        _lead = (long)(-_clock.QuarterAt(start) - half).Ceiling();
    }

    /// <param name="session">The session.</param>
    /// <param name="start">Session sample of tick 0.</param>
    /// <param name="includes">Which notes tracks go.</param>
    public static SmfFile Make(Session session, long start, Func<Track, bool> includes)
    {
        var export = new MidiExport(session, start);
        var tracks = session.Tracks.Where(t => t.Kind == TrackKind.Notes && includes(t)).Select(export.Notes);
        return new SmfFile { Type = 1, TicksPerQuarter = export._division, Tracks = tracks.Prepend(export.Conductor()).ToValueArray() };
    }

    /// <summary>The largest distance, in samples, at any quarter between where the file's tempo puts it and where the session has it.</summary>
    public static double Drift(Session session, long start)
    {
        var export = new MidiExport(session, start);
        var tempos = export.Tempos().ToList();
        var end = export.Tick(export._clock.QuarterAt(Math.Max(session.EndSample, start)));
        var worst = 0.0;
        Rational seconds = 0;
        var at = 0;
        var tick = 0L;
        for (var beat = 0L; beat <= end; beat += export._division)
        {
            while (at + 1 < tempos.Count && tempos[at + 1].Tick <= beat)
            {
                seconds += new Rational((tempos[at + 1].Tick - tick) * tempos[at].Microseconds, 1_000_000L * export._division);
                tick = tempos[++at].Tick;
            }

            var written = seconds + new Rational((beat - tick) * tempos[at].Microseconds, 1_000_000L * export._division);
            var meant = export._clock.ExactSampleAt(new Rational(beat, export._division) - export._lead) - start;
            if (beat > 0)
            {
                worst = Math.Max(worst, Math.Abs((session.Rate.SamplesIn(written) - meant).ToDouble()));
            }
        }

        return worst;
    }

    private static int Division(Session session)
    {
        var result = 1L;
        foreach (var ticks in session.Tracks.SelectMany(t => t.Parts).Select(p => p.TicksPerQuarter).Append(480).Distinct())
        {
            var next = result / (long)System.Numerics.BigInteger.GreatestCommonDivisor(result, ticks) * ticks;
            result = next <= LargestDivision ? next : result;
        }

        return (int)result;
    }

    private long Tick(Rational quarter) => Math.Max(0, ((quarter + _lead) * _division).RoundToEven());

    private SmfTrack Conductor()
    {
        var events = new List<SmfEvent> { Text(0, SmfMeta.TrackName, _session.Name), StartTimecode() };
        events.AddRange(Tempos().Select(t => SmfEvent.OfMeta(
            t.Tick, SmfMeta.Tempo, (byte)(t.Microseconds >> 16), (byte)(t.Microseconds >> 8), (byte)t.Microseconds)));
        events.AddRange(Meters());
        events.AddRange(Keys());
        events.AddRange(_session.Markers.Where(m => m.Sample >= _start).Select(m => Text(Tick(_clock.QuarterAt(m.Sample)), SmfMeta.Marker, m.Text)));
        var end = Tick(_clock.QuarterAt(Math.Max(_session.EndSample, _start)));
        return Track(events, end);
    }

    private IEnumerable<(long Tick, int Microseconds)> Tempos()
    {
        var lead = _session.Rate.SecondsOf(_clock.ExactSampleAt(1 - _lead) - _start) * 1_000_000;
        var points = new SortedDictionary<long, int> { [0] = Clamp(lead) };
        points[_division] = Microseconds(1 - _lead);
        foreach (var point in _session.Tempo.Points.Where(p => p.Quarter > 1 - _lead))
        {
            points[Tick(point.Quarter)] = Microseconds(point.Quarter);
        }

        foreach (var quarter in _session.Tempo.Points.SelectMany(RampSteps))
        {
            points[Tick(quarter)] = Microseconds(quarter);
        }

        var last = 0;
        foreach (var (tick, microseconds) in points)
        {
            if (microseconds != last)
            {
                yield return (tick, last = microseconds);
            }
        }
    }

    // The format has no ramps: a sixteenth note at a time.
    private IEnumerable<Rational> RampSteps(TempoPoint point, int index)
    {
        if (!point.Ramp || index + 1 >= _session.Tempo.Points.Count)
        {
            yield break;
        }

        var end = _session.Tempo.Points[index + 1].Quarter;
        for (var quarter = point.Quarter; quarter < end; quarter += new Rational(1, 4))
        {
            if (quarter > 1 - _lead)
            {
                yield return quarter;
            }
        }
    }

    // In a ramp, the mean over the step that begins here.
    private int Microseconds(Rational quarter)
    {
        var step = new Rational(1, 4);
        return _session.Tempo.Points.Any(p => p.Ramp)
            ? Clamp((_session.Tempo.SecondsAt(quarter + step) - _session.Tempo.SecondsAt(quarter)) / step * 1_000_000)
            : Clamp(60_000_000 / _session.Tempo.TempoAt(quarter));
    }

    private static int Clamp(Rational microseconds) => (int)Math.Clamp(microseconds.RoundToEven(), 1, SlowestTempo);

    private IEnumerable<SmfEvent> Meters()
    {
        var first = _session.Meters.PositionAt(-_lead);
        var meter = _session.Meters.MeterOfBar(first.Bar);
        var bar = first.Bar;
        if (first.Beat != 1 || first.Tick.Sign != 0)
        {
            // The range begins inside a bar: a shorter first bar reaches to its end.
            var toNext = _session.Meters.StartOfBar(first.Bar + 1) + _lead;
            yield return Meter(0, toNext, meter.BeatUnit);
            bar++;
            yield return Meter(Tick(_session.Meters.StartOfBar(bar)), _session.Meters.MeterOfBar(bar).QuartersPerBar, _session.Meters.MeterOfBar(bar).BeatUnit);
        }
        else
        {
            yield return Meter(0, meter.QuartersPerBar, meter.BeatUnit);
        }

        foreach (var change in _session.Meters.Changes.Where(c => c.Bar > bar))
        {
            yield return Meter(Tick(_session.Meters.StartOfBar(change.Bar)), change.QuartersPerBar, change.BeatUnit);
        }
    }

    private static SmfEvent Meter(long tick, Rational quarters, int unit)
    {
        while ((quarters * unit / 4).Denominator != 1 && unit < 64)
        {
            unit *= 2;
        }

        var beats = (int)Math.Clamp((quarters * unit / 4).RoundToEven(), 1, 255);
        var power = System.Numerics.BitOperations.Log2((uint)unit);
        return SmfEvent.OfMeta(tick, SmfMeta.Meter, (byte)beats, (byte)power, 24, 8);
    }

    private IEnumerable<SmfEvent> Keys()
    {
        var begin = new Rational(-_lead, 1);
        var inForce = _session.Keys.Where(k => k.Quarter <= begin).Select(k => (KeyChange?)k).LastOrDefault() ?? _session.Keys.Select(k => (KeyChange?)k).FirstOrDefault();
        if (inForce is { } first)
        {
            yield return Key(0, first);
        }

        foreach (var key in _session.Keys.Where(k => k.Quarter > begin && k != inForce))
        {
            yield return Key(Tick(key.Quarter), key);
        }
    }

    private static SmfEvent Key(long tick, KeyChange key) => SmfEvent.OfMeta(tick, SmfMeta.Key, (byte)(sbyte)key.Sharps, (byte)(key.Minor ? 1 : 0));

    private SmfEvent StartTimecode()
    {
        var frame = _session.TimecodeScale.At(_start).Frame;
        var label = frame.ToString().Split(':', ';').Select(byte.Parse).ToArray();
        var bits = frame.Rate.Nominal switch { 24 => 0, 25 or 50 => 1, _ when frame.Rate.Drop => 2, _ => 3 };

        // The format knows no more than 30 frames a second: at 50 and 60 every other frame counts.
        var frames = frame.Rate.Nominal > 30 ? label[3] / 2 : label[3];
        return SmfEvent.OfMeta(0, SmfMeta.SmpteOffset, (byte)(label[0] | (bits << 5)), label[1], label[2], (byte)frames, 0);
    }

    private SmfTrack Notes(Track track)
    {
        var events = new List<SmfEvent> { Text(0, SmfMeta.TrackName, track.Name) };
        var end = 0L;
        foreach (var part in track.Parts.Where(p => !p.Muted))
        {
            events.AddRange(Part(part));
            end = Math.Max(end, Tick(part.EndQuarter));
        }

        return Track(events, end);
    }

    private IEnumerable<SmfEvent> Part(NotePart part)
    {
        var length = (part.LengthQuarters * part.TicksPerQuarter).RoundToEven();
        foreach (var control in part.Controls.Where(c => c.Tick < length || c.Tick == 0))
        {
            if (At(part, control.Tick) is { } tick)
            {
                yield return Control(tick, control);
            }
        }

        foreach (var note in part.Notes.Where(n => n.Tick < length))
        {
            // A note that began before the range is cut from the sound too; it does not go.
            if (At(part, note.Tick) is { } on && At(part, Math.Min(note.Tick + note.Length, length)) is { } off)
            {
                yield return SmfEvent.OfChannel(on, 0x90, note.Channel, (byte)note.Key, (byte)Math.Max(1, note.Velocity));
                yield return SmfEvent.OfChannel(Math.Max(off, on + 1), 0x80, note.Channel, (byte)note.Key, (byte)note.ReleaseVelocity);
            }
        }
    }

    private long? At(NotePart part, long tick)
    {
        var quarter = part.StartQuarter + new Rational(tick, part.TicksPerQuarter);
        var place = ((quarter + _lead) * _division).RoundToEven();
        return place < 0 ? null : place;
    }

    private static SmfEvent Control(long tick, NoteControl c) => c.Kind switch
    {
        NoteControlKind.PolyPressure => SmfEvent.OfChannel(tick, 0xA0, c.Channel, (byte)c.Number, (byte)c.Value),
        NoteControlKind.Controller => SmfEvent.OfChannel(tick, 0xB0, c.Channel, (byte)c.Number, (byte)c.Value),
        NoteControlKind.Program => SmfEvent.OfChannel(tick, 0xC0, c.Channel, (byte)c.Value),
        NoteControlKind.ChannelPressure => SmfEvent.OfChannel(tick, 0xD0, c.Channel, (byte)c.Value),
        NoteControlKind.PitchBend => SmfEvent.OfChannel(tick, 0xE0, c.Channel, (byte)((c.Value + 8192) & 0x7F), (byte)((c.Value + 8192) >> 7)),
        _ => new SmfEvent(tick, (byte)(c.Number == 0xF7 ? 0xF7 : 0xF0), 0, c.Bytes),
    };

    // At one tick: names first, then note-offs, then controls, then note-ons, so that a repeated key is never cut by its own end.
    private static SmfTrack Track(List<SmfEvent> events, long end)
    {
        var ordered = events.OrderBy(e => e.Tick).ThenBy(Rank).ToList();
        return new SmfTrack(ordered.ToValueArray(), Math.Max(end, ordered[^1].Tick));
        static int Rank(SmfEvent e) => e.IsMeta ? 0 : e.Kind switch { 0x80 => 1, 0x90 => 3, _ => 2 };
    }

    private static SmfEvent Text(long tick, byte type, string text) => new(tick, SmfEvent.MetaStatus, type, Encoding.UTF8.GetBytes(text).ToValueArray());
}
