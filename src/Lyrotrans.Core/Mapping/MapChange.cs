using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Mapping;

/// <summary>
/// Puts another map under a session. What keeps its samples lies where it was; what keeps its quarters goes with the grid.
/// Lengths of sound never change: it is not stretched.
/// </summary>
public sealed class MapChange
{
    /// <summary>Notes that keep their samples are put on so fine a grid that none is more than half a sample off at usual tempos.</summary>
    public const int FineTicks = 30_720;

    private readonly Session _session;
    private readonly MusicMap _map;
    private readonly Anchors _anchors;
    private readonly MusicalClock _before;
    private readonly MusicalClock _after;
    private int _pushed;

    private MapChange(Session session, MusicMap map, Anchors anchors)
    {
        _session = session;
        _map = map;
        _anchors = anchors;
        _before = session.Clock;
        _after = map.ClockAt(session.Rate);
    }

    /// <summary>The session under another map.</summary>
    /// <param name="session">What is changed.</param>
    /// <param name="map">The other map.</param>
    /// <param name="anchors">What keeps its samples, and what its quarters.</param>
    public static Session Apply(Session session, MusicMap map, Anchors anchors) => new MapChange(session, map, anchors).Apply();

    /// <summary>What <see cref="Apply(Session, MusicMap, Anchors)"/> would move.</summary>
    public static MapEffect Measure(Session session, MusicMap map, Anchors anchors)
    {
        var change = new MapChange(session, map, anchors);
        var after = change.Apply();
        var (clips, farthestClip) = (0, 0L);
        foreach (var (a, b) in Pairs(session, after, t => t.Lanes.SelectMany(l => l.Clips)))
        {
            clips += a.Start == b.Start ? 0 : 1;
            farthestClip = Farther(farthestClip, b.Start - a.Start);
        }

        var (notes, farthestNote) = (0, 0L);
        var (before, now) = (session.Clock, after.Clock);
        foreach (var (a, b) in Pairs(session, after, t => t.Parts.SelectMany(p => p.Notes.Select(n => p.StartQuarter + new Rational(n.Tick, p.TicksPerQuarter)))))
        {
            var move = now.SampleAt(b) - before.SampleAt(a);
            notes += move == 0 ? 0 : 1;
            farthestNote = Farther(farthestNote, move);
        }

        var moves = session.Markers.Zip(after.Markers, (a, b) => b.Sample - a.Sample).ToList();
        return new MapEffect(clips, farthestClip, change._pushed, notes, farthestNote, moves.Count(m => m != 0), moves.Aggregate(0L, Farther));
    }

    private static IEnumerable<(T Before, T After)> Pairs<T>(Session before, Session after, Func<Track, IEnumerable<T>> of) =>
        before.Tracks.SelectMany(of).Zip(after.Tracks.SelectMany(of));

    private static long Farther(long a, long b) => Math.Abs(b) > Math.Abs(a) ? b : a;

    private Session Apply() => _session with
    {
        Tempo = _map.Tempo,
        Meters = _map.Meters,
        Keys = _map.Keys,
        Bar1Sample = _map.Bar1Sample,
        Markers = _anchors.Markers == Anchor.Samples ? _session.Markers : _session.Markers.Select(Moved).OrderBy(m => m.Sample).ToValueArray(),
        Tracks = _session.Tracks.Select(Track).ToValueArray(),
    };

    private Track Track(Track track)
    {
        var sound = _anchors.Audio == Anchor.Samples ? track : track with
        {
            Lanes = track.Lanes.Select(l => l with { Clips = Moved(l.Clips) }).ToValueArray(),
            FaderAutomation = Moved(track.FaderAutomation),
            PanAutomation = Moved(track.PanAutomation),
            Sends = track.Sends.Select(s => s with { LevelAutomation = Moved(s.LevelAutomation) }).ToValueArray(),
        };
        return _anchors.Notes == Anchor.Quarters ? sound : sound with { Parts = track.Parts.Select(Held).ToValueArray() };
    }

    private long Moved(long sample) => _after.SampleAt(_before.QuarterAt(sample));

    private Marker Moved(Marker marker)
    {
        var start = Moved(marker.Sample);
        return marker with { Sample = start, Length = marker.Length == 0 ? 0 : Math.Max(1, Moved(marker.Sample + marker.Length) - start) };
    }

    private Automation? Moved(Automation? automation) =>
        automation is null ? null : automation with { Points = automation.Points.Select(p => p with { Sample = Moved(p.Sample) }).ToValueArray() };

    /// <summary>
    /// Clips that touch or overlap move together, by the first of them. Nothing is cut: a clip that would begin before the one
    /// ahead of it has ended begins there instead.
    /// </summary>
    private ValueArray<Clip> Moved(ValueArray<Clip> clips)
    {
        var result = new List<Clip>();
        var (shift, end, movedEnd) = (0L, long.MinValue, long.MinValue);
        foreach (var clip in clips)
        {
            if (clip.Start > end)
            {
                var start = Moved(clip.Start);
                _pushed += start < movedEnd ? 1 : 0;
                shift = Math.Max(start, movedEnd) - clip.Start;
            }

            end = Math.Max(end, clip.End);
            movedEnd = Math.Max(movedEnd, clip.End + shift);
            result.Add(clip with { Start = clip.Start + shift });
        }

        return result.ToValueArray();
    }

    private NotePart Held(NotePart part)
    {
        var start = Fine(part.StartQuarter);
        var end = Fine(part.EndQuarter);
        Rational Old(long tick) => part.StartQuarter + new Rational(tick, part.TicksPerQuarter);
        long Tick(long tick) => ((Fine(Old(tick)) - start) * FineTicks).RoundToEven();
        return part with
        {
            StartQuarter = start,
            LengthQuarters = end - start,
            TicksPerQuarter = FineTicks,
            Notes = part.Notes.Select(n => n with { Tick = Tick(n.Tick), Length = Math.Max(1, Tick(n.Tick + n.Length) - Tick(n.Tick)) }).ToValueArray(),
            Controls = part.Controls.Select(c => c with { Tick = Tick(c.Tick) }).ToValueArray(),
        };
    }

    // The quarter under the new map that sounds when the old one did, on the fine grid.
    private Rational Fine(Rational quarter) =>
        new((_after.QuarterAt(_before.ExactSampleAt(quarter)) * FineTicks).RoundToEven(), FineTicks);
}
