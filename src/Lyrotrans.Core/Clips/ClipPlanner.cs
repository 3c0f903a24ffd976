using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clips;

/// <summary>Makes a clip plan: channels first, then what becomes part of the sound, then places, then media.</summary>
internal sealed class ClipPlanner
{
    private const string LostRide = "Tracks without their fader and its automation, as chosen: {0}.";
    private const string LostPan = "Tracks without their pan, as chosen: {0}.";
    private readonly Session _session;
    private readonly Preparation _preparation;
    private readonly ClipChoices _choices;
    private readonly ClipNotes _notes = new();
    private readonly ClipMediaPlanner _media;
    private readonly Rational _unit;

    public ClipPlanner(Session session, Preparation preparation)
    {
        session = FromZero(session);
        _session = session;
        _preparation = preparation.For(session);
        _choices = preparation.Clips;
        _unit = _choices.FrameUnits ? session.Rate.PerSecond / session.FrameRate.PerSecond : 1;
        _media = new ClipMediaPlanner(session, preparation, _unit, _notes);
    }

    public ClipPlan Make()
    {
        var names = DeliveredNames.Texts(_session, _preparation);
        var tracks = _session.Tracks.ToDictionary(t => t.Id);
        var made = new List<(Track Track, List<ClipPiece> Pieces)>();
        var became = new List<(string, ValueArray<string>)>();
        foreach (var choice in _preparation.Tracks.Where(c => c.Treatment == Treatment.KeepClips))
        {
            var own = Channels(tracks[choice.TrackId] with { Name = Sendable(names[choice.TrackId]) }).SelectMany(Panned).Select(Ridden).ToList();
            became.Add((choice.TrackId, Enumerable.Range(made.Count + 1, own.Count).Select(TrackId).ToValueArray()));
            made.AddRange(own);
        }

        foreach (var (track, pieces) in made)
        {
            _media.Add(track, pieces);
        }

        _media.Settle();
        var delivered = made.Select((m, i) => Numbered(m.Track with { Channels = m.Pieces.Count == 0 ? 1 : m.Track.Channels, Lanes = [new Lane("main", m.Pieces.Select(p => _media.Placed(m.Track, p)).ToValueArray())] }, i + 1)).ToValueArray();
        delivered = WithNotes(delivered);
        var media = _media.Media(delivered).Select(m => m with { Media = MediaNames.WithoutHashes(m.Media) }).ToList();
        NoteBends(delivered);
        NoteMetadata(delivered);
        var plan = new ClipPlan
        {
            Session = new Session
            {
                Name = Sendable(_session.Name),
                Rate = _session.Rate,
                Depth = media.Select(m => m.Media.Encoding).Where(e => e is Sound.SampleEncoding.Integer16 or Sound.SampleEncoding.Unsigned8).Count() == media.Count && media.Count > 0
                    ? Sound.SampleEncoding.Integer16 : Sound.SampleEncoding.Integer24,
                Start = _session.Start,
                Media = media.Select(m => m.Media).ToValueArray(),
                Tracks = delivered,
                Markers = Markers(),
                Picture = Picture(),
                Comments = _session.Comments.DistinctBy(c => c.Name).Select(c => new Comment(Sendable(c.Name), Sendable(c.Text))).ToValueArray(),
            },
            Media = media.ToValueArray(),
            Shortfalls = _media.Shortfalls.ToValueArray(),
            Shifts = _media.Shifts.ToValueArray(),
            Notes = _notes.All().ToValueArray(),
            Tracks = became.ToValueArray(),
        };
        return plan with { Session = WithOtherTracks(WithMusic(plan.Session)) };
    }

    private Session WithMusic(Session session) => _choices.Format.Music == Held.No ? session : session with
    {
        Tempo = _session.Tempo,
        Meters = _session.Meters,
        Keys = _session.Keys,
        Bar1Sample = _session.Bar1Sample,
    };

    /// <summary>The tracks that make no sound of files, where the format has a place for them.</summary>
    private Session WithOtherTracks(Session session)
    {
        if (_choices.Format.OtherTracks == Held.No)
        {
            return session;
        }

        var taken = session.Tracks.Select(t => t.Id).ToHashSet();
        var rest = _session.Tracks.Where(t => t.Kind != TrackKind.Audio && !IsHeldBack(t)).ToList();

        // Delivered tracks are numbered; what has such a number of its own gives way.
        var ids = rest.ToDictionary(t => t.Id, t => taken.Contains(t.Id) ? $"{t.Id}-kept" : t.Id);
        return session with
        {
            Tracks = session.Tracks.Concat(rest.Select(t => t with
            {
                Id = ids[t.Id],
                Output = t.Output is { } output ? ids.GetValueOrDefault(output, output) : null,
                Sends = t.Sends.Select(s => s with { Target = ids.GetValueOrDefault(s.Target, s.Target) }).ToValueArray(),
            })).ToValueArray(),
        };
    }

    private void NoteMetadata(ValueArray<Track> tracks)
    {
        var format = _choices.Format;
        var clips = tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).ToList();
        var has = new[]
        {
            format.ClipGain == Held.InMetadata && clips.Exists(c => c.GainDb != 0 || c.GainCurve is not null) ? "clip gain" : null,
            format.Volume == Held.InMetadata && tracks.Any(t => t.FaderDb != 0 || t.FaderAutomation is not null) ? "volume" : null,
            format.Pan == Held.InMetadata && tracks.Any(t => t.Pan != 0 || t.PanAutomation is not null) ? "pan" : null,
            format.Transitions == TransitionShapes.LengthOnly && clips.Exists(c => c.FadeIn is { Length: > 0, Shape: not FadeShape.Linear } || c.FadeOut is { Length: > 0, Shape: not FadeShape.Linear }) ? "fade shapes" : null,
        }.OfType<string>().ToList();
        if (has.Count > 0)
        {
            _notes.Say($"{format} has no place for {string.Join(", ", has)}: other software will not see them. They lie in its metadata and come back from there; in the sound everybody has them.");
        }
    }

    // A note that has no place in the file stands in the session sheet, as all do.
    private ValueArray<Track> WithNotes(ValueArray<Track> tracks)
    {
        var format = _choices.Format;
        var lost = new[]
        {
            format.ClipNotes == Held.No && tracks.Any(t => t.Lanes.Any(l => l.Clips.Any(c => c.Note.Length > 0))) ? "clips" : null,
            format.TrackNotes == Held.No && tracks.Any(t => t.Note.Length > 0) ? "tracks" : null,
        }.OfType<string>().ToList();
        if (lost.Count > 0)
        {
            _notes.Say($"{format} has no place for notes to {Naming.Phrases.List(lost, "and")}; they stand in the session sheet.");
        }

        return [.. tracks.Select(t => t with
        {
            Note = format.TrackNotes == Held.No ? string.Empty : Sendable(t.Note),
            Lanes = format.ClipNotes == Held.No ? [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c.Note.Length == 0 ? c : c with { Note = string.Empty })] })] : t.Lanes,
        })];
    }

    private bool IsHeldBack(Track track) => track.Kind == TrackKind.Notes && _preparation.Tracks.Any(c => c.TrackId == track.Id && c.Treatment == Treatment.HoldBack);

    private void NoteBends(ValueArray<Track> tracks)
    {
        if (!_choices.Format.IsVolumeStraightInAmplitude)
        {
            return;
        }

        var worst = tracks.SelectMany(t => t.Lanes.SelectMany(l => l.Clips).Select(c => c.GainCurve).Append(t.FaderAutomation)).OfType<Automation>()
            .Where(a => a.Interpolation == Interpolation.Linear).Select(CurveMath.BendDb).DefaultIfEmpty(0).Max();
        if (worst > 0.05)
        {
            _notes.Say(FormattableString.Invariant($"Volume between two points runs straight in amplitude in {_choices.Format} and straight in dB here: up to {worst:0.0} dB apart halfway, none at the points."));
        }
    }

    /// <summary>A file of clips has nothing before its first sample; where the session has, it starts so many frames earlier.</summary>
    private Session FromZero(Session session)
    {
        var first = session.Tracks.SelectMany(t => t.Sounding?.Clips ?? []).Select(c => c.Start).DefaultIfEmpty(0).Min();
        if (first >= 0)
        {
            return session;
        }

        // Frames that are whole samples together, so that nothing moves against anything.
        var frame = session.Rate.PerSecond / session.FrameRate.PerSecond;
        var together = (long)frame.Denominator;
        var frames = (long)(-first / (frame * together)).Ceiling() * together;
        var by = (frame * frames).RoundToEven();
        _notes.Say($"Clips lie before session start; the file starts {frames} frames earlier, so that they go.");
        return session with
        {
            Start = session.Start with { Frames = (session.Start.Frames - frames + session.FrameRate.FramesPerDay) % session.FrameRate.FramesPerDay },
            Markers = session.Markers.Select(m => m with { Sample = m.Sample + by }).ToValueArray(),
            Tracks = session.Tracks.Select(t => t with
            {
                FaderAutomation = CurveMath.Shifted(t.FaderAutomation, by),
                PanAutomation = CurveMath.Shifted(t.PanAutomation, by),
                Lanes = t.Lanes.Select(l => l with { Clips = l.Clips.Select(c => c with { Start = c.Start + by }).ToValueArray() }).ToValueArray(),
            }).ToValueArray(),
        };
    }

    private static string TrackId(int number) => FormattableString.Invariant($"track-{number}");

    // The identifiers that reading the file gives, so that what is found can be held against what was meant.
    internal static Track Numbered(Track track, int number) => track with
    {
        Id = TrackId(number),
        Lanes = track.Lanes.Select(l => l with { Clips = l.Clips.Select((c, i) => c with { Id = FormattableString.Invariant($"track-{number}-clip-{i + 1}") }).ToValueArray() }).ToValueArray(),
    };

    private ValueArray<Marker> Markers()
    {
        if (_preparation.Markers != MarkersForm.All)
        {
            return [];
        }

        if (_choices.Format.Markers == Held.No && _session.Markers.Count > 0)
        {
            _notes.Say($"{_choices.Format} has no markers; they go in the MIDI file and the marker list.");
            return [];
        }

        return _session.Markers.OrderBy(m => m.Sample).Select(OnUnits).ToValueArray();
    }

    private string Sendable(string text)
    {
        if (!_choices.Format.HasAsciiNames || AsciiText.IsAscii(text))
        {
            return text;
        }

        var ascii = AsciiText.Of(text);
        _notes.Say($"{_choices.Format} has names in ASCII only: \"{text}\" goes as \"{ascii}\".");
        return ascii;
    }

    private PictureReference? Picture()
    {
        if ((PicturePlan.Of(_session, _preparation)?.Delivered ?? _session.Picture) is not { } picture || _choices.Format.Picture == Held.No)
        {
            return null;
        }

        var frames = Math.Max(_session.Start.Frames, (picture.Start.Frames / picture.Start.Rate.PerSecond * _session.FrameRate.PerSecond).RoundToEven());
        // A name is of a file, without its folder; readers of clip files make the same of it.
        return new PictureReference(picture.ShortName, _session.Start with { Frames = frames }, Math.Max(1, picture.LengthFrames));
    }

    private long Unit(long sample) => _unit == 1 ? sample : ((sample / _unit).RoundToEven() * _unit).RoundToEven();

    private Marker OnUnits(Marker marker, int index)
    {
        var (start, end) = (Unit(marker.Sample), Unit(marker.Sample + marker.Length));
        if (start != marker.Sample || end != marker.Sample + marker.Length)
        {
            _notes.Count("Markers between frames: {0}; they move to whole frames, by up to {1} samples.", Math.Max(Math.Abs(start - marker.Sample), Math.Abs(end - marker.Sample - marker.Length)));
        }

        return marker with { Id = FormattableString.Invariant($"m{index + 1}"), Sample = start, Length = marker.Length > 0 ? end - start : 0 };
    }

    /// <summary>A track as one, or as a mono track for each channel.</summary>
    private IEnumerable<Track> Channels(Track track)
    {
        if (track.Channels == 1 || !_choices.MonoOnly)
        {
            return [Bare(track)];
        }

        if (track.Channels == 2 && (track.Pan != 0 || track.PanAutomation is not null))
        {
            _notes.Count("Stereo tracks that were panned: {0}; split, their sides go hard left and right.");
        }

        return Enumerable.Range(0, track.Channels).Select(c => Bare(track) with
        {
            Name = track.Channels == 2 ? $"{track.Name}.{(c == 0 ? 'L' : 'R')}" : FormattableString.Invariant($"{track.Name}.{c + 1}"),
            Channels = 1,
            Pan = track.Channels == 2 && _choices.Pan != PanForm.LeftOut ? (c * 2) - 1 : 0,
            PanAutomation = null,
            Lanes = track.Lanes.Select(l => l with { Clips = l.Clips.Select(clip => clip with { ChannelMap = [clip.ChannelMap[c]] }).ToValueArray() }).ToValueArray(),
        });
    }

    /// <summary>What a file of clips holds of a track.</summary>
    private static Track Bare(Track track) => new()
    {
        Id = track.Id,
        Note = track.Note,
        Name = track.Name,
        Channels = track.Channels,
        FaderDb = track.FaderDb,
        FaderAutomation = track.FaderAutomation,
        Pan = track.Pan,
        PanAutomation = track.PanAutomation,
        Lanes = track.Sounding is { } lane ? [lane] : [],
    };

    private IEnumerable<Track> Panned(Track track)
    {
        if (track.Pan == 0 && track.PanAutomation is null)
        {
            return [track];
        }

        if (_choices.Pan == PanForm.LeftOut)
        {
            _notes.Count(LostPan);
            return [track with { Pan = 0, PanAutomation = null }];
        }

        // A side of a pair is where it belongs already.
        if (_choices.Pan == PanForm.Kept || track.Channels != 1 || (Math.Abs(track.Pan) == 1 && track.PanAutomation is null))
        {
            return [track with { Pan = Math.Round(track.Pan, 8) }];
        }

        return [Side(track, true), Side(track, false)];
    }

    private static Track Side(Track track, bool left)
    {
        double Of(double pan) => left ? CurveMath.PanLevels(pan).Left : CurveMath.PanLevels(pan).Right;
        var moves = track.PanAutomation is { } curve ? curve with { Points = curve.Points.Select(p => p with { Value = Of(p.Value) }).ToValueArray() } : null;
        return track with
        {
            Name = $"{track.Name}.{(left ? 'L' : 'R')}",
            FaderDb = track.FaderDb + (moves is null ? Of(track.Pan) : 0),
            FaderAutomation = CurveMath.Sum(track.FaderAutomation, moves),
            Pan = left ? -1 : 1,
            PanAutomation = null,
        };
    }

    private (Track Track, List<ClipPiece> Pieces) Ridden(Track track)
    {
        var moved = track.FaderDb != 0 || track.FaderAutomation is not null;
        if (moved && _choices.Volume == VolumeForm.LeftOut)
        {
            _notes.Count(LostRide);
        }

        var ride = moved && _choices.Volume == VolumeForm.Rendered ? CurveMath.Raised(track.FaderAutomation, track.FaderDb) ?? new Automation([new AutomationPoint(0, track.FaderDb)]) : null;
        var kept = _choices.Volume == VolumeForm.Kept ? track : track with { FaderDb = 0, FaderAutomation = null };
        var pieces = Pieces(Lane(track), ride).Select(OnUnits).Where(p => p is not null).Select(p => p!).ToList();
        return (kept with { FaderDb = Math.Max(CurveMath.SilentDb, kept.FaderDb), FaderAutomation = CurveMath.Floored(kept.FaderAutomation) }, _unit == 1 ? pieces : Faded(pieces));
    }

    /// <summary>The clips of a track's sounding lane that a sequence can hold: one after the other, or crossing.</summary>
    private List<Clip> Lane(Track track)
    {
        var sounding = track.Sounding?.Clips.Where(c => !c.Muted).ToList() ?? [];
        var laid = new List<Clip>(sounding);
        foreach (var muted in track.Sounding?.Clips.Where(c => c.Muted) ?? [])
        {
            if (laid.Exists(c => c.Start < muted.End && c.End > muted.Start))
            {
                _notes.Count("Muted clips that lie over others on their track: {0}; a file of clips has no room for them, and the session document keeps them.");
            }
            else
            {
                laid.Add(muted);
            }
        }

        return [.. laid.OrderBy(c => c.Start)];
    }

    private IEnumerable<ClipPiece> Pieces(List<Clip> lane, Automation? ride)
    {
        for (var i = 0; i < lane.Count;)
        {
            var run = 1;
            while (_choices.FadesAs == FadeForm.Rendered && i + run < lane.Count && lane[i + run].Start < lane[i + run - 1].End)
            {
                run++;
            }

            if (run > 1)
            {
                _notes.Count("Crossfades that are printed, so that the clips that cross go as one: {0}.");
            }

            yield return Piece(lane.GetRange(i, run), ride, i > 0 ? lane[i - 1] : null, i + run < lane.Count ? lane[i + run] : null);
            i += run;
        }
    }

    private ClipPiece Piece(List<Clip> run, Automation? ride, Clip? before, Clip? after)
    {
        var (first, last) = (run[0], run[^1]);
        var bakeFades = _choices.FadesAs == FadeForm.Rendered && (run.Count > 1 || first.FadeIn.Length + first.FadeOut.Length > 0);
        var bakeGain = run.Count > 1 || (_choices.RenderGain && (first.GainDb != 0 || first.GainCurve is not null));
        var whole = first with
        {
            Length = last.End - first.Start,
            FadeIn = bakeFades ? Fade.None : Mapped(first.FadeIn, before is null ? 0 : before.End - first.Start),
            FadeOut = bakeFades ? Fade.None : Mapped(last.FadeOut, after is null ? 0 : last.End - after.Start),
            GainDb = bakeGain ? 0 : Math.Max(CurveMath.SilentDb, first.GainDb),
            GainCurve = bakeGain ? null : CurveMath.Floored(first.GainCurve),
        };
        if (!bakeFades && !bakeGain && ride is null)
        {
            return new ClipPiece(whole, []);
        }

        // A fade that stays beside the sound must not be in it twice; gain the same.
        return new ClipPiece(whole, [.. run.Select(c => c with
        {
            FadeIn = bakeFades ? c.FadeIn : Fade.None,
            FadeOut = bakeFades ? c.FadeOut : Fade.None,
            GainDb = bakeGain ? c.GainDb : 0,
            GainCurve = CurveMath.Sum(bakeGain ? c.GainCurve : null, CurveMath.Shifted(ride, -c.Start)),
        })]);
    }

    /// <summary>A fade in a shape that the form can say; one that is part of a crossfade is as long as the overlap.</summary>
    private Fade Mapped(Fade fade, long overlap)
    {
        if (fade.Length == 0)
        {
            return Fade.None;
        }

        var crosses = overlap > 0;
        if (crosses && fade.Length != overlap)
        {
            _notes.Count("Fades longer than their crossfade: {0}, by up to {1} samples; they go as long as the overlap.", fade.Length - overlap);
            fade = fade with { Length = overlap };
        }

        var asProperty = _choices.FadesAs == FadeForm.Properties && !crosses;
        var (mapped, error) = asProperty ? FadeMapping.ForProperty(fade) : _choices.Format.Transitions switch
        {
            TransitionShapes.OneLevel => FadeMapping.ForLevel(fade, crosses),
            TransitionShapes.LengthOnly => (fade, 0),
            _ => FadeMapping.ForTransition(fade),
        };
        if (mapped.Shape != fade.Shape)
        {
            _notes.Count(_choices.Format.Transitions == TransitionShapes.OneLevel && crosses
                ? "Crossfades that are not straight: {0}; " + _choices.Format + " has one level for both of their sides, so they go straight, up to {1} dB off. In the sound they keep their shape."
                : asProperty
                ? "Fades in the nearer of the two shapes that a clip's property has, linear or equal power: {0}, up to {1} dB off."
                : $"Fades whose shape has no name there, so that they go by {mapped.Curve.Count} points: {{0}}, up to {{1}} dB off.", error);
        }

        return mapped;
    }

    /// <summary>A piece with its edges on whole edit units; none where nothing of it is left.</summary>
    private ClipPiece? OnUnits(ClipPiece piece)
    {
        var clip = piece.Clip;
        if (_unit == 1)
        {
            return piece;
        }

        var (start, end) = (Unit(clip.Start), Unit(clip.End));
        if (end <= start)
        {
            _notes.Count("Clips shorter than half a frame, which do not go: {0}; the longest has {1} samples.", clip.Length);
            return null;
        }

        var worst = Math.Max(Math.Abs(start - clip.Start), Math.Abs(end - clip.End));
        if (worst > 0)
        {
            _notes.Count("Clips with edges between frames: {0}; they move to whole frames, by up to {1} samples. The sound inside stays on its sample where media are trimmed.", worst);
        }

        return piece with
        {
            Clip = clip with { Start = start, Length = end - start, GainCurve = CurveMath.Shifted(clip.GainCurve, clip.Start - start) },
            Moved = start - clip.Start,
        };
    }

    /// <summary>
    /// Fades in whole units, after their clips' edges: first as many units as they have, or as the overlap has become, then within the clip and never less than
    /// the overlap in samples. Where a unit is no whole number of samples these differ by one, and this is how a reader rounds.
    /// </summary>
    private List<ClipPiece> Faded(List<ClipPiece> pieces)
    {
        var clips = pieces.Select(p => p.Clip).ToList();
        long Overlap(int i) => i > 0 && i < clips.Count ? Math.Max(0, clips[i - 1].End - clips[i].Start) : 0;
        for (var i = 0; i < clips.Count; i++)
        {
            var (before, after) = (Overlap(i), Overlap(i + 1));
            var into = OnUnits(clips[i].FadeIn, before, clips[i].Length);
            clips[i] = clips[i] with { FadeIn = into, FadeOut = OnUnits(clips[i].FadeOut, after, clips[i].Length - into.Length) };
        }

        for (var i = 1; i < clips.Count; i++)
        {
            if (Overlap(i) is > 0 and var overlap)
            {
                var (before, clip) = (clips[i - 1], clips[i]);
                var into = Math.Max(overlap, clip.FadeIn.Length);
                var earlier = Math.Min(before.FadeIn.Length, before.Length - overlap);
                clips[i - 1] = before with
                {
                    FadeIn = before.FadeIn with { Length = earlier },
                    FadeOut = before.FadeOut with { Length = Math.Max(overlap, Math.Min(before.FadeOut.Length, before.Length - earlier)) },
                };
                clips[i] = clip with { FadeIn = clip.FadeIn with { Length = into }, FadeOut = clip.FadeOut with { Length = Math.Min(clip.FadeOut.Length, clip.Length - into) } };
            }
        }

        for (var i = 0; i < clips.Count; i++)
        {
            clips[i] = clips[i] with { FadeIn = Overlap(i) > 0 ? clips[i].FadeIn : Heard(clips[i].FadeIn), FadeOut = Overlap(i + 1) > 0 ? clips[i].FadeOut : Heard(clips[i].FadeOut) };
        }

        return [.. pieces.Zip(clips).Select(p => p.First with { Clip = p.Second })];

        // What is left of a fade beside another may be less than half a unit, which cannot be said.
        Fade Heard(Fade fade) => Unit(fade.Length) == 0 ? Fade.None : fade;
    }

    private Fade OnUnits(Fade fade, long overlap, long most)
    {
        var length = Math.Min(Unit(overlap > 0 ? overlap : fade.Length), most);
        if (length <= 0)
        {
            return Fade.None;
        }

        // What crossed and does so no more is a fade from or to silence now.
        var shaped = overlap == 0 && _choices.FadesAs == FadeForm.Properties ? FadeMapping.ForProperty(fade).Fade : fade;
        return shaped with { Length = length };
    }
}
