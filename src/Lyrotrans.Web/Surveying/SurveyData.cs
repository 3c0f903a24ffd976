using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Editing;

namespace Lyrotrans.Web.Surveying;

/// <summary>A session as the timeline needs it: short keys, positions in samples.</summary>
public static class SurveyData
{
    private const int MostBars = 4000;

    // Of all tracks in the first answer; the rest of each is asked for while what is there is drawn already.
    private const int FirstNotes = 20_000;
    private const int MostNotes = 200_000;

    public static object Of(Desk desk, IReadOnlyList<FlagGroup> flags, SampleRange files)
    {
        var session = desk.Session;
        var media = session.Media.Select((m, i) => (m, i)).ToDictionary(p => p.m.Id, p => p.i);
        var roles = TrackRoles.Of(session);
        var choices = desk.Preparation.Tracks.ToDictionary(c => c.TrackId);
        var end = Math.Max(session.EndSample, session.Rate.HeaderHz);
        return new
        {
            name = session.Name,
            rate = session.Rate.PerSecond.ToDouble(),
            frames = new { session.FrameRate.Nominal, perSecond = session.FrameRate.PerSecond.ToDouble(), drop = session.FrameRate.DroppedPerMinute, start = session.Start.Frames, day = session.FrameRate.FramesPerDay },
            end,
            bar1 = session.Bar1Sample,
            files = new { files.Start, files.End },
            tempo = Tempo(session),
            meters = Meters(session),
            map = MapDraft.RowsOf(session),
            bars = Bars(session, end),
            markers = session.Markers.Select(m => new { m.Id, m.Text, at = m.Sample, m.Length, m.By, m.Date }),
            picture = Picture(session),
            media = session.Media.Select(m => new
            {
                sha = m.IsAbsent ? null : m.Sha256,
                name = m.FileName,
                rate = m.Rate.PerSecond.ToDouble(),
                m.Channels,
                m.Length,
                depth = m.Encoding.Words(),
                missing = m.Place == MediaPlace.Missing,
            }),
            tracks = session.Tracks.Zip(FirstOf(session)).Select((t, i) => Track(session, roles, t.First, i, choices.GetValueOrDefault(t.First.Id), media, t.Second)),
            flags = flags.Select(g => new
            {
                g.Kind.Code,
                cost = g.Kind.Cost.ToString(),
                g.Title,
                g.Kind.Costs,
                open = g.IsOpen,
                accepted = g.Answer?.Accepted ?? false,
                note = g.Answer?.Note ?? string.Empty,
                mend = FlagMends.WordsOf(g.Kind),
                objects = g.Flags.Select(f => new { f.Title, f.Detail, track = f.TrackId, clip = f.ClipId, at = f.Sample, isNew = g.IsNew(f) }),
            }),
        };
    }

    /// <summary>Where the reference picture lies, and how long its frames are, in samples of the session; nothing where its file did not come.</summary>
    private static object? Picture(Session session)
    {
        if (session.Picture is not { IsThere: true } picture)
        {
            return null;
        }

        var perFrame = session.Rate.PerSecond / picture.FramesPerSecond!.Value;
        var length = session.Rate.SamplesIn(picture.LengthFrames / picture.Start.Rate.PerSecond);
        return new
        {
            name = picture.ShortName,
            sha = picture.Sha256,
            start = session.TimecodeScale.FirstSampleOf(picture.Start),
            timecode = picture.Start.ToString(),
            length = length.RoundToEven(),
            perFrame = perFrame.ToDouble(),
            frames = Math.Max(1, (length / perFrame).RoundToEven()),
            perSecond = picture.FramesPerSecond.Value.ToDouble(),
            sound = picture.SoundChannels,
        };
    }

    /// <summary>The takes that do not sound, by their tracks: there may be many times more of them than of those that do, and few ask for them.</summary>
    public static IReadOnlyDictionary<string, object> Takes(Session session)
    {
        var media = session.Media.Select((m, i) => (m, i)).ToDictionary(p => p.m.Id, p => p.i);
        return session.Tracks.Where(t => t.Lanes.Count > 1).ToDictionary(
            t => t.Id, t => (object)t.Lanes.Where((l, i) => i != t.SoundingLane && TakeTracks.IsTake(session, l)).Select(l => new { l.Name, clips = l.Clips.Select(c => Clip(session, c, media)) }));
    }

    /// <summary>Notes of a track from one on, of all its parts one after the other, so many as go into one answer.</summary>
    public static IEnumerable<long[]> Notes(Session session, Track track, int from) => AllNotes(session, track).Skip(from).Take(MostNotes);

    private static IEnumerable<long[]> AllNotes(Session session, Track track) => track.Parts.SelectMany((p, index) => p.Notes.Select(n => Note(session.Clock, p, n, index)));

    private static IEnumerable<int> FirstOf(Session session)
    {
        var left = FirstNotes;
        foreach (var track in session.Tracks)
        {
            var taken = Math.Min(left, track.Parts.Sum(p => p.Notes.Count));
            left -= taken;
            yield return taken;
        }
    }

    public static IEnumerable<object> Meters(Session session) =>
        session.Meters.Changes.Select(m => new { m.Bar, m.Beats, unit = m.BeatUnit, quarter = session.Meters.StartOfBar(m.Bar).ToDouble() });

    public static IEnumerable<object> Tempo(Session session) => session.Tempo.Points.Select(p => new
    {
        at = session.Clock.ExactSampleAt(p.Quarter).ToDouble(),
        quarter = p.Quarter.ToDouble(),
        tempo = p.QuartersPerMinute.ToDouble(),
        p.Ramp,
    });

    public static List<object[]> Bars(Session session, long end)
    {
        var bars = new List<object[]>();
        var clock = session.Clock;
        var meters = session.Meters;
        for (var bar = meters.PositionAt(clock.QuarterAt(0)).Bar; bars.Count < MostBars; bar++)
        {
            var at = clock.SampleAt(meters.StartOfBar(bar));
            if (at > end * 1.1)
            {
                break;
            }

            var meter = meters.MeterOfBar(bar);
            bars.Add([bar, at, meters.Changes.Any(c => c.Bar == bar) ? meter.ToString() : string.Empty]);
        }

        return bars;
    }

    private static object Track(Session session, TrackRoles roles, Track track, int index, TrackChoice? choice, Dictionary<string, int> media, int firstNotes)
    {
        var (fate, words) = Fate(track, choice, roles);
        var clips = track.Sounding?.Clips ?? default;
        var clock = session.Clock;
        return new
        {
            track.Id,
            track.Name,
            number = index + 1,
            kind = track.Kind.Words(),
            track.Channels,
            state = track.State.Words(),
            fate,
            words,
            takes = track.Lanes.Count(l => TakeTracks.IsTake(session, l)) is > 1 and var takes ? takes - 1 : (int?)null,
            clips = clips.Select(c => Clip(session, c, media)),
            track.Output,
            notes = AllNotes(session, track).Take(firstNotes),
            noteCount = track.Parts.Sum(p => p.Notes.Count),
            parts = track.Parts.Select(p => new
            {
                p.Id,
                p.Name,
                p.Muted,
                start = clock.SampleAt(p.StartQuarter),
                end = clock.SampleAt(p.EndQuarter),
                quarter = p.StartQuarter.ToDouble(),
                notes = p.Notes.Count,
                controls = p.Controls.Count,
                ticks = p.TicksPerQuarter,
            }),
            controls = track.Kind == TrackKind.Notes ? Controls(track, clock) : null,
            ride = track.FaderAutomation?.Points.Select(p => new double[] { p.Sample, p.Value }),
            facts = Facts(track),
            note = track.Note,
        };
    }

    private static (string Fate, string Words) Fate(Track track, TrackChoice? choice, TrackRoles roles) => choice?.Treatment switch
    {
        { } treatment when treatment.IsPrint() => ("printed", treatment.Words()),
        { } treatment and not Treatment.HoldBack => ("carried", treatment.Words()),
        _ when track.Kind.HasRole() => ("printed", roles.Words(track)),
        _ when track.Kind is TrackKind.Bus or TrackKind.Return or TrackKind.Master => ("held", $"{track.Kind.Words()}, record only"),
        _ when track.State != TrackState.Active => ("held", track.State.Words()),
        _ => ("held", "hold back"),
    };

    private static string[][] Facts(Track track)
    {
        var facts = new List<string[]>
        {
            new[] { "channels", Phrases.Channels(track.Channels) },
            new[] { "state", track.State.Words() },
            new[] { "fader", $"{Decibels.Words(track.FaderDb, 2)} dB" },
            new[] { "pan", TrackSettings.Pan(track.Pan) },
            new[] { "feeds", track.Output ?? "master" },
        };
        facts.AddRange(track.Sends.Select(s => new[] { $"sends to {s.Target}", $"{Decibels.Words(s.LevelDb, 1)} dB" }));
        facts.AddRange(track.Inserts.Select(i => new[] { "effect", i.Latency > 0 ? $"{i.Effect}, {i.Latency} samples late" : i.Effect }));
        return [.. facts];
    }

    // id, name, media, start, length, source offset, gain, fade in length and shape, fade out length and shape, muted, handles, first channel, channels, note.
    private static object[] Clip(Session session, Clip clip, Dictionary<string, int> media)
    {
        var file = session.Media[media[clip.Media]];
        return
        [
            clip.Id, clip.Name, media[clip.Media], clip.Start, clip.Length, clip.SourceOffset, clip.GainDb,
            clip.FadeIn.Length, clip.FadeIn.Shape.ToString(), clip.FadeOut.Length, clip.FadeOut.Shape.ToString(), clip.Muted,
            clip.HandleBefore(file, session.Rate), clip.HandleAfter(file, session.Rate), clip.ChannelMap.Count > 0 ? clip.ChannelMap[0] : 0, clip.ChannelMap.Count, clip.Note,
        ];
    }

    // Start, end where it sounds to, key, velocity, muted, then tick in its part, length in ticks, channel, release velocity, part.
    private static long[] Note(MusicalClock clock, NotePart part, Note note, int index)
    {
        var start = part.StartQuarter + new Rational(note.Tick, part.TicksPerQuarter);
        var end = start + new Rational(note.Length, part.TicksPerQuarter);
        var cut = end > part.EndQuarter ? part.EndQuarter : end;
        return [clock.SampleAt(start), clock.SampleAt(cut), note.Key, note.Velocity, part.Muted ? 1 : 0, note.Tick, note.Length, note.Channel, note.ReleaseVelocity, index];
    }

    /// <summary>Everything on a track's channels that moves over time, most events first: name, range and points of sample and value.</summary>
    private static IEnumerable<object> Controls(Track track, MusicalClock clock) => track.Parts.Where(p => !p.Muted)
        .SelectMany(p => p.Controls.Select(c => (Sample: clock.SampleAt(p.StartQuarter + new Rational(c.Tick, p.TicksPerQuarter)), Control: c)))
        .Where(c => c.Control.Kind is NoteControlKind.Controller or NoteControlKind.PitchBend or NoteControlKind.ChannelPressure)
        .GroupBy(c => (c.Control.Kind, c.Control.Channel, c.Control.Number)).OrderByDescending(g => g.Count())
        .Select(g => new
        {
            name = g.Key.Kind switch { NoteControlKind.PitchBend => "bend", NoteControlKind.ChannelPressure => "pressure", _ => $"controller {g.Key.Number}" },
            channel = g.Key.Channel,
            low = g.Key.Kind == NoteControlKind.PitchBend ? -8192 : 0,
            high = g.Key.Kind == NoteControlKind.PitchBend ? 8191 : 127,
            points = g.OrderBy(c => c.Sample).Select(c => new[] { c.Sample, c.Control.Value }),
        });
}
