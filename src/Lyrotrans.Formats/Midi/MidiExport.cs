using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// Makes a type 1 MIDI file of a session: a conductor track with tempo, meters, keys, markers and start timecode, then a track
/// for each notes track, or for each of its parts. Tick 0 is the first sample of the delivered range.
/// </summary>
/// <remarks>
/// Notes keep their ticks and are closed at their part's end; what lies outside a part's bounds does not sound and does not go.
/// Of what came before the range, the last program, bend, pressure and value of each controller goes to its first tick, so that
/// notes sound with what was set for them.
/// </remarks>
/// <remarks>docs/formats/midi.md, section 6.</remarks>
public sealed class MidiExport
{
    private const int MostMeterBeats = 255;
    private readonly Session _session;
    private readonly MidiGrid _grid;
    private readonly MidiChoices _choices;

    private MidiExport(Session session, MidiGrid grid, MidiChoices choices)
    {
        _session = session;
        _grid = grid;
        _choices = choices;
    }

    /// <param name="session">The session: its map, markers and start.</param>
    /// <param name="start">Session sample of tick 0.</param>
    /// <param name="choices">The tempo's form, a track for each part or each notes track, and muted parts.</param>
    /// <param name="tracks">The notes tracks that go.</param>
    public static SmfFile Make(Session session, long start, MidiChoices choices, IEnumerable<Track> tracks)
    {
        var grid = new MidiGrid(session, start);
        var export = new MidiExport(session, grid, choices);
        var made = tracks.SelectMany(export.Tracks);
        return new SmfFile { Type = 1, TicksPerQuarter = grid.Division, Tracks = made.Prepend(export.Conductor()).ToValueArray() };
    }

    /// <summary>How far the tempo that <see cref="Make"/> writes strays from the session's.</summary>
    public static TempoDrift Drift(Session session, long start, TempoForm form)
    {
        var grid = new MidiGrid(session, start);
        return TempoSteps.Drift(session, grid, TempoSteps.Make(session, grid, form));
    }

    /// <summary>The same in every form of tempo.</summary>
    public static IReadOnlyDictionary<TempoForm, TempoDrift> Drifts(Session session, long start)
    {
        var grid = new MidiGrid(session, start);
        return Enum.GetValues<TempoForm>().ToDictionary(f => f, f => TempoSteps.Drift(session, grid, TempoSteps.Make(session, grid, f)));
    }

    /// <summary>What a span's end point is called; it is joined to the span again when it is read.</summary>
    public static string EndOf(string text) => $"{text}, end";

    private long Tick(Rational quarter) => Math.Max(0, _grid.Tick(quarter));

    private SmfTrack Conductor()
    {
        var events = new List<SmfEvent> { Text(0, SmfMeta.TrackName, _session.Name), StartTimecode() };
        events.AddRange(TempoSteps.Make(_session, _grid, _choices.Tempo).Select(t => SmfEvent.OfMeta(
            t.Tick, SmfMeta.Tempo, (byte)(t.Microseconds >> 16), (byte)(t.Microseconds >> 8), (byte)t.Microseconds)));
        events.AddRange(Meters());
        events.AddRange(Keys());
        events.AddRange(_session.Markers.Where(m => m.Sample >= _grid.Start).SelectMany(Marker));
        return Track(events, _grid.EndTick);
    }

    // The format has points only: a span is its start and its end.
    private IEnumerable<SmfEvent> Marker(Marker marker)
    {
        yield return Text(_grid.TickOfSample(marker.Sample), SmfMeta.Marker, marker.Text);
        if (marker.Length > 0)
        {
            yield return Text(_grid.TickOfSample(marker.Sample + marker.Length), SmfMeta.Marker, EndOf(marker.Text));
        }
    }

    private IEnumerable<SmfEvent> Meters()
    {
        var first = _session.Meters.PositionAt(-_grid.Lead);
        var meter = _session.Meters.MeterOfBar(first.Bar);
        var bar = first.Bar;
        if (first.Beat != 1 || first.Tick.Sign != 0)
        {
            // The range begins inside a bar: a shorter first bar reaches to its end.
            var toNext = _session.Meters.StartOfBar(first.Bar + 1) + _grid.Lead;
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

    // The format's unit is a power of two; another one is said as the bar's length in the first that holds it.
    private static SmfEvent Meter(long tick, Rational quarters, int unit)
    {
        var power = System.Numerics.BitOperations.IsPow2(unit) ? unit : 4;
        while ((quarters * power / 4).Denominator != 1 && power < 64)
        {
            power *= 2;
        }

        var beats = (int)Math.Clamp((quarters * power / 4).RoundToEven(), 1, MostMeterBeats);
        return SmfEvent.OfMeta(tick, SmfMeta.Meter, (byte)beats, (byte)System.Numerics.BitOperations.Log2((uint)power), 24, 8);
    }

    private IEnumerable<SmfEvent> Keys()
    {
        var begin = new Rational(-_grid.Lead, 1);
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
        var position = _session.TimecodeScale.At(_grid.Start);
        var rate = position.Frame.Rate;
        var label = position.Frame.ToString().Split(':', ';').Select(byte.Parse).ToArray();
        var bits = rate.Nominal switch { 24 => 0, 25 or 50 => 1, _ when rate.Drop => 2, _ => 3 };

        // The format knows no more than 30 frames a second: at 50 and 60 every other frame counts, and the odd one is half a frame.
        var fold = rate.Nominal > 30 ? 2 : 1;
        var part = ((label[3] % fold) + (rate.PerSecond * _session.Rate.SecondsOf(position.SubSamples))) / fold;
        var hundredths = (byte)Math.Clamp((part * 100).RoundToEven(), 0, 99);
        return SmfEvent.OfMeta(0, SmfMeta.SmpteOffset, (byte)(label[0] | (bits << 5)), label[1], label[2], (byte)(label[3] / fold), hundredths);
    }

    private IEnumerable<SmfTrack> Tracks(Track track)
    {
        var parts = track.Parts.Where(p => _choices.MutedParts || !p.Muted).ToList();
        return _choices.Form == MidiForm.OneFile
            ? [Notes(track.Name, parts)]
            : parts.Select(p => Notes(track.Parts.Count == 1 ? track.Name : $"{track.Name}, {p.Name}", [p]));
    }

    private SmfTrack Notes(string name, IReadOnlyList<NotePart> parts)
    {
        var events = new List<SmfEvent> { Text(0, SmfMeta.TrackName, name) };
        var controls = parts.SelectMany(Controls).OrderBy(c => c.Tick).ToList();
        events.AddRange(Chased(controls.Where(c => c.Tick < 0)).Concat(controls.Where(c => c.Tick >= 0)).Select(Control));
        var end = 0L;
        foreach (var part in parts)
        {
            events.AddRange(Notes(part));
            end = Math.Max(end, Tick(part.EndQuarter));
        }

        return Track(events, end);
    }

    /// <summary>A part's events in ticks of the file; below zero before the range.</summary>
    private IEnumerable<NoteControl> Controls(NotePart part)
    {
        var length = Length(part);
        return part.Controls.Where(c => c.Tick < length || c.Tick == 0).Select(c => c with { Tick = At(part, c.Tick) });
    }

    // Of what came before the range the last of each kind, in the order they came.
    private static IEnumerable<NoteControl> Chased(IEnumerable<NoteControl> before) => before
        .Where(c => c.Kind is NoteControlKind.Program or NoteControlKind.Controller or NoteControlKind.PitchBend or NoteControlKind.ChannelPressure)
        .GroupBy(c => (c.Channel, c.Kind, c.Number)).Select(g => g.Last()).OrderBy(c => c.Tick).Select(c => c with { Tick = 0 });

    private IEnumerable<SmfEvent> Notes(NotePart part)
    {
        var length = Length(part);
        foreach (var note in part.Notes.Where(n => n.Tick < length))
        {
            // A note that began before the range is cut from the sound too; it does not go.
            var (on, off) = (At(part, note.Tick), At(part, Math.Min(note.Tick + note.Length, length)));
            if (on >= 0)
            {
                yield return SmfEvent.OfChannel(on, 0x90, note.Channel, (byte)note.Key, (byte)Math.Max(1, note.Velocity));
                yield return SmfEvent.OfChannel(Math.Max(off, on + 1), 0x80, note.Channel, (byte)note.Key, (byte)note.ReleaseVelocity);
            }
        }
    }

    private static long Length(NotePart part) => (part.LengthQuarters * part.TicksPerQuarter).RoundToEven();

    private long At(NotePart part, long tick) => _grid.Tick(part.StartQuarter + new Rational(tick, part.TicksPerQuarter));

    private static SmfEvent Control(NoteControl c) => c.Kind switch
    {
        NoteControlKind.PolyPressure => SmfEvent.OfChannel(c.Tick, 0xA0, c.Channel, (byte)c.Number, (byte)c.Value),
        NoteControlKind.Controller => SmfEvent.OfChannel(c.Tick, 0xB0, c.Channel, (byte)c.Number, (byte)c.Value),
        NoteControlKind.Program => SmfEvent.OfChannel(c.Tick, 0xC0, c.Channel, (byte)c.Value),
        NoteControlKind.ChannelPressure => SmfEvent.OfChannel(c.Tick, 0xD0, c.Channel, (byte)c.Value),
        NoteControlKind.PitchBend => SmfEvent.OfChannel(c.Tick, 0xE0, c.Channel, (byte)((c.Value + 8192) & 0x7F), (byte)((c.Value + 8192) >> 7)),
        NoteControlKind.Meta => new SmfEvent(c.Tick, SmfEvent.MetaStatus, (byte)c.Number, c.Bytes),
        _ => new SmfEvent(c.Tick, (byte)(c.Number == 0xF7 ? 0xF7 : 0xF0), 0, c.Bytes),
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
