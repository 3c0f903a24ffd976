using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Mutate;

/// <summary>Sessions that differ from one in a single thing: the files that are made of them are as well formed as any, and only say something else.</summary>
internal static class SessionMutations
{
    public static IReadOnlyList<(string How, Func<Session, Session> Change)> All { get; } =
    [
        ("a clip starts a sample later", s => OfClip(s, c => c with { Start = c.Start + 1, Length = c.Length - 1 })),
        ("a clip begins a sample later in its medium", s => OfClip(s, c => c with { SourceOffset = c.SourceOffset + 1 })),
        ("a clip is 0.0005 dB louder", s => OfClip(s, c => c with { GainDb = c.GainDb + 0.0005 })),
        ("a clip is 0.01 dB louder", s => OfClip(s, c => c with { GainDb = c.GainDb + 0.01 })),
        ("a clip is muted", s => OfClip(s, c => c with { Muted = true })),
        ("a clip has another name", s => OfClip(s, c => c with { Name = c.Name + "x" })),
        ("a fade has another shape", s => OfClip(s, c => c with { FadeIn = c.FadeIn with { Shape = FadeShape.S, Curve = default } }, c => c.FadeIn.Length > 0)),
        ("a fade is a sample longer", s => OfClip(s, c => c with { FadeOut = c.FadeOut with { Length = c.FadeOut.Length + 1 } }, c => c.FadeOut.Length > 0)),
        ("a gain curve has another point", s => OfClip(s, c => c with { GainCurve = Moved(c.GainCurve!, 0.5) }, c => c.GainCurve is not null)),
        ("a lane has another name", s => OfTrack(s, t => t with { Lanes = t.Lanes.Select(l => l with { Name = l.Name + "x" }).ToValueArray() }, t => t.Lanes.Count > 0)),
        ("a fader is 0.01 dB up", s => OfTrack(s, t => t with { FaderDb = t.FaderDb + 0.01 }, t => t.Lanes.Count > 0)),
        ("a fader moves otherwise", s => OfTrack(s, t => t with { FaderAutomation = Moved(t.FaderAutomation!, 0.5) }, t => t.FaderAutomation is not null)),
        ("a track lies elsewhere between left and right", s => OfTrack(s, t => t with { Pan = t.Pan == 0 ? 0.01 : t.Pan * 0.9 }, t => t.Lanes.Count > 0)),
        ("a pan moves otherwise", s => OfTrack(s, t => t with { PanAutomation = Moved(t.PanAutomation!, 0.01) }, t => t.PanAutomation is not null)),
        ("a track's polarity is turned over", s => OfTrack(s, t => t with { Inverted = !t.Inverted }, t => t.Lanes.Count > 0)),
        ("a track is soloed", s => OfTrack(s, t => t with { Soloed = true }, t => t.Lanes.Count > 0)),
        ("a send is 0.1 dB up", s => OfTrack(s, t => t with { Sends = t.Sends.Select(x => x with { LevelDb = x.LevelDb + 0.1 }).ToValueArray() }, t => t.Sends.Count > 0)),
        ("an effect has another setting", s => OfTrack(s, t => t with { Inserts = t.Inserts.Select(i => i with { Parameters = i.Parameters.Select(p => p with { Value = p.Value + 0.01 }).ToValueArray() }).ToValueArray() }, t => t.Inserts.Any(i => i.Parameters.Count > 0))),
        ("two tracks are changed over", s => s with { Tracks = [s.Tracks[1], s.Tracks[0], .. s.Tracks.Skip(2)] }),
        ("a part is muted", s => OfPart(s, p => p with { Muted = true })),
        ("a part has another name", s => OfPart(s, p => p with { Name = p.Name + "x" })),
        ("a part has other ticks", s => OfPart(s, p => p with { TicksPerQuarter = p.TicksPerQuarter + 1 })),
        ("a part more", s => OfTrack(s, t => t with { Parts = [.. t.Parts, t.Parts[0] with { Id = "more" }] }, t => t.Parts.Count > 0)),
        ("a note is a tick later", s => OfPart(s, p => p with { Notes = p.Notes.Select((n, i) => i == 0 ? n with { Tick = n.Tick + 1 } : n).ToValueArray() })),
        ("a note is struck otherwise", s => OfPart(s, p => p with { Notes = p.Notes.Select((n, i) => i == 0 ? n with { Velocity = n.Velocity ^ 1 } : n).ToValueArray() })),
        ("a marker is a sample later", s => s with { Markers = s.Markers.Select((m, i) => i == 0 ? m with { Sample = m.Sample + 1 } : m).ToValueArray() }),
        ("a marker is by somebody else", s => s with { Markers = s.Markers.Select((m, i) => i == 0 ? m with { By = m.By + "x" } : m).ToValueArray() }),
        ("a marker is of another day", s => s with { Markers = s.Markers.Select((m, i) => i == 0 ? m with { Date = m.Date + "1" } : m).ToValueArray() }),
        ("a marker says something else", s => s with { Markers = s.Markers.Select((m, i) => i == 0 ? m with { Text = m.Text + "x" } : m).ToValueArray() }),
        ("the tempo is another", s => s with { Tempo = new TempoMap([.. s.Tempo.Points.Select((p, i) => i == 0 ? p with { QuartersPerMinute = p.QuartersPerMinute + new Rational(1, 100) } : p)]) }),
        ("a key is another", s => s with { Keys = s.Keys.Select((k, i) => i == 0 ? k with { Minor = !k.Minor } : k).ToValueArray() }),
        ("the picture is another", s => s with { Picture = s.Picture is null ? null : s.Picture with { FileName = "x" + s.Picture.FileName } }),
        ("the picture lies elsewhere", s => s with { Picture = s.Picture is null ? null : s.Picture with { Start = s.Picture.Start with { Frames = s.Picture.Start.Frames + 1 } } }),
        ("a comment is another", s => s with { Comments = s.Comments.Select((c, i) => i == 0 ? c with { Text = c.Text + "x" } : c).ToValueArray() }),
        ("it starts a frame later", s => s with { Start = s.Start with { Frames = s.Start.Frames + 1 } }),
    ];

    private static Session OfTrack(Session session, Func<Track, Track> change, Func<Track, bool> which)
    {
        var first = session.Tracks.FirstOrDefault(which);
        return session with { Tracks = session.Tracks.Select(t => ReferenceEquals(t, first) ? change(t) : t).ToValueArray() };
    }

    private static Session OfClip(Session session, Func<Clip, Clip> change, Func<Clip, bool>? which = null)
    {
        which ??= c => !c.Muted && c.Length > 100;
        return OfTrack(session, t =>
        {
            var first = t.Sounding!.Clips.First(which);
            return t with { Lanes = t.Lanes.Select(l => l with { Clips = l.Clips.Select(c => ReferenceEquals(c, first) ? change(c) : c).ToValueArray() }).ToValueArray() };
        }, t => t.Kind == TrackKind.Audio && (t.Sounding?.Clips.Any(which) ?? false));
    }

    private static Session OfPart(Session session, Func<NotePart, NotePart> change) =>
        OfTrack(session, t => t with { Parts = t.Parts.Select((p, i) => i == 0 ? change(p) : p).ToValueArray() }, t => t.Parts.Count > 0 && t.Parts[0].Notes.Count > 0);

    private static Automation Moved(Automation curve, double by) => curve with { Points = curve.Points.Select((p, i) => i == 0 ? p with { Value = p.Value + (p.Value > 0.5 ? -by : by) } : p).ToValueArray() };
}
