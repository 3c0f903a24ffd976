using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// Turns a MIDI file into the musical side of a session: tempo, meters, keys, markers and note tracks, with tick 0 at a
/// given session sample. A first bar that is shorter than the meter that follows it is a pick-up, and bar 1 comes after it.
/// </summary>
/// <remarks>docs/formats/midi.md, section 5.</remarks>
public sealed class MidiImport
{
    private const int DefaultMicroseconds = 500_000;
    private readonly SmfFile _file;
    private readonly SmfContents _contents;
    private readonly int _ticks;
    private readonly Rational _bar1Quarter;

    private MidiImport(SmfFile file)
    {
        _file = file;
        _contents = SmfContents.Of(file);
        _ticks = file.TicksPerQuarter > 0 ? file.TicksPerQuarter : SmpteTicksPerQuarter();
        _bar1Quarter = PickUp() is { } tick ? Quarter(tick) : 0;
    }

    /// <param name="file">Type 0 or 1 (type 2 sequences are taken as tracks side by side, with a finding).</param>
    /// <param name="name">For the session.</param>
    /// <param name="rate">The session's.</param>
    /// <param name="tickZero">Session sample of tick 0.</param>
    public static Session Read(SmfFile file, string name, SampleRate rate, long tickZero = 0) => new MidiImport(file).Read(name, rate, tickZero);

    private Session Read(string name, SampleRate rate, long tickZero)
    {
        var tempo = Tempo();
        var bar1 = tickZero + rate.SamplesIn(-tempo.SecondsAt(-_bar1Quarter)).RoundToEven();
        var clock = new MusicalClock(rate, bar1, tempo);
        return new Session
        {
            Name = name,
            Rate = rate,
            Bar1Sample = bar1,
            Tempo = tempo,
            Meters = Meters(),
            Keys = _contents.Keys.Select(k => new KeyChange(Quarter(k.Tick) - _bar1Quarter, k.Sharps, k.Minor)).ToValueArray(),
            Markers = Spans(_contents.Markers.Concat(_contents.Cues).OrderBy(m => m.Tick), tick => clock.SampleAt(Quarter(tick) - _bar1Quarter)).ToValueArray(),
            Tracks = NoteTracks(name).ToValueArray(),
        };
    }

    /// <summary>Where the file says it starts (FF 54), in seconds since midnight; null where it does not say.</summary>
    public static Rational? StartSeconds(SmfContents contents)
    {
        if (contents.SmpteOffset is not [var hours, var minutes, var seconds, var frames, var hundredths, var rate])
        {
            return null;
        }

        var fps = rate switch { 24 => FrameRate.Fps24, 25 => FrameRate.Fps25, 29 => FrameRate.Fps2997Drop, _ => FrameRate.Fps30 };
        return Timecode.TryParse($"{hours:00}:{minutes:00}:{seconds:00}{(fps.Drop ? ';' : ':')}{frames:00}", fps, out var code)
            ? (code.Frames + new Rational(hundredths, 100)) / fps.PerSecond
            : null;
    }

    // With an SMPTE division ticks are time itself: a quarter is then half a second, or a whole one where ticks are odd.
    private int SmpteTicksPerQuarter() => NominalTicksPerSecond % 2 == 0 ? NominalTicksPerSecond / 2 : NominalTicksPerSecond;

    private int NominalTicksPerSecond => (_file.FramesPerSecond == 29 ? 30 : _file.FramesPerSecond) * Math.Max(1, _file.TicksPerFrame);

    private Rational Quarter(long tick) => new(tick, _ticks);

    /// <summary>Markers, with a start and its end joined to the span that they were.</summary>
    private static List<Marker> Spans(IEnumerable<(long Tick, string Text)> texts, Func<long, long> sampleAt)
    {
        var markers = new List<Marker>();
        foreach (var (tick, text) in texts)
        {
            var sample = sampleAt(tick);
            var open = markers.FindLastIndex(m => m.Length == 0 && MidiExport.EndOf(m.Text) == text);
            if (open >= 0 && sample > markers[open].Sample)
            {
                markers[open] = markers[open] with { Length = sample - markers[open].Sample };
            }
            else
            {
                markers.Add(new Marker($"m{markers.Count + 1}", text, sample));
            }
        }

        return markers;
    }

    private long? PickUp()
    {
        if (_file.TicksPerQuarter == 0 || _contents.Meters.Count < 2 || _contents.Meters[0].Tick != 0)
        {
            return null;
        }

        var (first, second) = (_contents.Meters[0], _contents.Meters[1]);
        var firstBar = new Rational(4L * first.Beats, first.BeatUnit);
        return Quarter(second.Tick) == firstBar && firstBar < new Rational(4L * second.Beats, second.BeatUnit) ? second.Tick : null;
    }

    private TempoMap Tempo()
    {
        if (_file.TicksPerQuarter == 0)
        {
            // 29.97 frames run a thousandth slower than their ticks are counted.
            var nominal = new Rational(60L * NominalTicksPerSecond, _ticks);
            return TempoMap.Constant(_file.FramesPerSecond == 29 ? nominal * new Rational(1000, 1001) : nominal);
        }

        var points = new SortedDictionary<long, Rational>();
        foreach (var (tick, microseconds) in _contents.Tempos)
        {
            points[tick] = new Rational(60_000_000, microseconds);
        }

        points.TryAdd(0, new Rational(60_000_000, DefaultMicroseconds));
        return new TempoMap(points.Select(p => new TempoPoint(Quarter(p.Key) - _bar1Quarter, p.Value)).ToValueArray());
    }

    private MeterMap Meters()
    {
        var changes = new List<MeterChange>();
        var pickUp = _bar1Quarter.Sign > 0;
        var map = new MeterMap([new MeterChange(1, 4, 4)]);
        foreach (var (tick, beats, unit) in _contents.Meters.Skip(pickUp ? 1 : 0))
        {
            // A meter that comes inside a bar takes effect at the next bar line, as readers of the format do.
            var position = map.PositionAt(Quarter(tick) - _bar1Quarter);
            var bar = position.Beat == 1 && position.Tick.Sign == 0 ? position.Bar : position.Bar + 1;
            changes.RemoveAll(c => c.Bar >= bar);
            changes.Add(new MeterChange(bar, beats, unit));
            map = new MeterMap(changes.ToValueArray());
        }

        return map;
    }

    private IEnumerable<Track> NoteTracks(string name)
    {
        for (var i = 0; i < _contents.Tracks.Count; i++)
        {
            var track = _contents.Tracks[i];
            var channelEvents = track.Controls.Any(c => c.Kind != NoteControlKind.Meta);
            if (track.Notes.Count == 0 && !channelEvents && (i == 0 || track.Name.Length == 0))
            {
                continue;
            }

            var label = track.Name.Length > 0 ? track.Name : $"{name} {i + 1}";
            var end = Math.Max(track.EndTick, track.Notes.Select(n => n.Tick + n.Length).DefaultIfEmpty(0).Max());
            yield return new Track
            {
                Id = $"notes-{i + 1}",
                Name = label,
                Kind = TrackKind.Notes,
                Channels = 0,
                Parts = [new NotePart
                {
                    Id = $"notes-{i + 1}-part",
                    Name = label,
                    StartQuarter = -_bar1Quarter,
                    LengthQuarters = Quarter(end),
                    TicksPerQuarter = _ticks,
                    Notes = track.Notes,
                    Controls = track.Controls,
                }],
            };
        }
    }
}
