using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Sessions;
using System.Globalization;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>
/// Makes a session of a composition: every place on its nearest sample, both ends of a span by themselves, so that neighbours that
/// touched still touch. What had to give way is a finding.
/// </summary>
public sealed class EditImport
{
    // What we write about a file for our own proof is no word of the session.
    private const string OwnComment = "Lyrotrans ";
    private const double SilentDb = -144;
    // Both ends of a span go to their nearest sample, so what lies in it may be a sample more or less.
    private const long Rounding = 1;

    // From one such place to another is no longer than a session can say.
    private const long Farthest = SessionLimits.FarthestSample / 2;
    private readonly EditComposition _composition;
    private readonly FindingList _findings;
    private readonly Dictionary<string, string> _ownTracks = [];
    private readonly Dictionary<string, string> _ownClips = [];
    private long _between;
    private double _bent;

    private EditImport(EditComposition composition)
    {
        _findings = [.. composition.Findings];
        _composition = composition with { Media = composition.Media.ToDictionary(m => m.Key, m => Possible(m.Value)) };
    }

    /// <summary>Makes a session of a composition: every place is rounded once, to the nearest sample, and what was off a sample is told.</summary>
    public static (Session Session, IReadOnlyList<Finding> Findings) Make(EditComposition composition)
    {
        var import = new EditImport(composition);
        var session = import.Make();
        if (composition.Own is not { } own || own.Rate != session.Rate)
        {
            return (session, [.. import._findings]);
        }

        var merged = OwnSession.Merge(session, own, import._ownTracks, import._ownClips);
        if (!SessionRules.Check(merged).Any())
        {
            return (merged, [.. import._findings]);
        }

        import._findings.Add(EditCodes.OwnLeftOut, string.Empty, "What its metadata keep of gain, fades and the rest does not go with its timeline any more and was left out.");
        return (session, [.. import._findings]);
    }

    /// <summary>A session whose clips take all channels of media that were found since, where the document does not say how many there are.</summary>
    public static Session Widened(Session session)
    {
        var channels = session.Media.ToDictionary(m => m.Id, m => m.Channels);
        return session with
        {
            Tracks = session.Tracks.Select(t =>
            {
                var most = t.Lanes.SelectMany(l => l.Clips).Select(c => channels[c.Media]).DefaultIfEmpty(t.Channels).Max();
                return t.Kind != TrackKind.Audio || most == t.Channels ? t : t with
                {
                    Channels = most,
                    Lanes = t.Lanes.Select(l => l with { Clips = l.Clips.Select(c => c with { ChannelMap = Enumerable.Range(0, most).Select(n => Math.Min(n, channels[c.Media] - 1)).ToValueArray() }).ToValueArray() }).ToValueArray(),
                };
            }).ToValueArray(),
        };
    }

    private Session Make()
    {
        // A session starts at a label; files may count on beyond midnight.
        var start = new Timecode(_composition.StartFrames, FrameRateOf()).WithinDay;
        var tracks = _composition.Tracks.Select(Track).ToValueArray();
        if (_between > 0)
        {
            _findings.Add(EditCodes.BetweenSamples, string.Empty, $"{_between} places lie between two samples; each went to the nearest.");
        }

        if (_bent > 0.05)
        {
            _findings.Add(EditCodes.VolumeBent, string.Empty, string.Create(CultureInfo.InvariantCulture, $"Volume between two points runs straight in amplitude there and straight in dB here: up to {_bent:0.0} dB apart halfway, none at the points."));
        }

        if (_composition.Others.Count > 0)
        {
            _findings.Add(EditCodes.OtherCompositions, string.Empty, $"There are other compositions in it, which were not taken: {string.Join(", ", _composition.Others.Take(10))}.");
        }

        return new Session
        {
            Name = _composition.Name,
            Rate = _composition.Rate,
            Depth = Depth(),
            Start = start,
            Media = _composition.Media.Values.Select(Media).ToValueArray(),
            Tracks = tracks,
            Markers = _composition.Markers.Select(Marker).ToValueArray(),
            Comments = _composition.Comments.Where(c => !c.Key.StartsWith(OwnComment, StringComparison.Ordinal)).Select(c => new Comment(c.Key, c.Value)).ToValueArray(),
            Picture = _composition.Picture is { } picture
                ? new PictureReference(picture.Name, start with { Frames = start.Frames + (long)(picture.Start / _composition.Rate.PerSecond * start.Rate.PerSecond).Floor() }, Math.Max(0, picture.LengthFrames))
                : null,
        };
    }

    private Marker Marker(EditMarker marker, int index)
    {
        var start = Sample(marker.Place);
        return new Marker($"m{index + 1}", marker.Text, start, marker.Length.Sign > 0 ? Sample(marker.Place + marker.Length) - start : 0) { By = marker.By, Date = marker.Date };
    }

    private DocumentMedia Possible(DocumentMedia media)
    {
        if (media.Channels is > 0 and <= SessionLimits.MostChannels)
        {
            return media;
        }

        _findings.Add(EditCodes.ChannelCount, media.FileName, $"{media.FileName} is said to have {media.Channels} channels; it was taken as mono.");
        return media with { Channels = 1 };
    }

    private FrameRate FrameRateOf()
    {
        var said = FrameRate.All.Where(f => f.PerSecond == _composition.FrameRate && f.Drop == _composition.DropFrame).ToList();
        if (said.Count > 0)
        {
            return said[0];
        }

        var nearest = FrameRate.All.OrderBy(f => Math.Abs((f.PerSecond - _composition.FrameRate).ToDouble())).ThenBy(f => f.Drop == _composition.DropFrame ? 0 : 1).First();
        _findings.Add(EditCodes.FrameRate, string.Empty, $"Its frame rate of {_composition.FrameRate} is not one that timecode has; {nearest.Name} was taken.");
        return nearest;
    }

    private SampleEncoding Depth()
    {
        var bits = _composition.Media.Values.Select(m => m.IsFloat ? 24 : m.Bits).DefaultIfEmpty(24).Max();
        return bits <= 16 ? SampleEncoding.Integer16 : SampleEncoding.Integer24;
    }

    private static Media Media(DocumentMedia media) => new()
    {
        Id = media.Id,
        FileName = media.FileName,
        Rate = media.Rate,
        Encoding = media.IsFloat
            ? media.Bits == 64 ? SampleEncoding.Float64 : SampleEncoding.Float32
            : media.Bits switch { <= 8 and > 0 => SampleEncoding.Unsigned8, <= 16 and > 0 => SampleEncoding.Integer16, > 24 => SampleEncoding.Integer32, _ => SampleEncoding.Integer24 },
        Channels = media.Channels,
        Length = media.Length,
        TimeReference = media.TimeReference,
        Place = MediaPlace.Missing,
        Identifiers = Identifiers(media).ToValueArray(),
    };

    private static IEnumerable<string> Identifiers(DocumentMedia media)
    {
        yield return media.Id;
        if (media.LocatorName is { } name && name != media.FileName)
        {
            yield return name;
        }

        if (media.Start is { } start)
        {
            yield return MediaNames.ByStart(start.Bytes, start.Sha256);
        }
    }

    private Track Track(EditTrack track, int index)
    {
        var channels = track.Clips.Select(c => c.Channel == 0 ? _composition.Media[c.Media].Channels : 1).DefaultIfEmpty(1).Max();
        var id = string.Create(CultureInfo.InvariantCulture, $"track-{index + 1}");
        if (track.Id is { } own)
        {
            _ownTracks[id] = own;
        }

        var main = track.Clips.Select((c, i) => Clip(c, $"{id}-clip-{i + 1}", channels)).ToList();
        var takes = track.Clips.Select((c, i) => (Clip: main[i], c.Alternates)).Where(p => p.Alternates.Count > 0).ToList();
        var lanes = new List<Lane> { new("main", Laid(main, track.Name)) };
        for (var take = 0; take < takes.Select(t => t.Alternates.Count).DefaultIfEmpty(0).Max(); take++)
        {
            var clips = takes.Where(t => t.Alternates.Count > take).Select(t => Clip(t.Alternates[take] with { Start = 0 }, $"{t.Clip.Id}-take-{take + 2}", channels) with { Start = t.Clip.Start });
            lanes.Add(new Lane($"take {take + 2}", Laid(clips, track.Name)));
        }

        return new Track
        {
            Id = id,
            Name = track.Name.Length > 0 ? track.Name : $"Track {index + 1}",
            Channels = channels,
            Lanes = lanes.ToValueArray(),
            FaderDb = Db(track.Fader),
            FaderAutomation = Gains(track.FaderAutomation),
            Pan = track.Pan is { } pan ? Side(pan) : 0,
            PanAutomation = Curve(track.PanAutomation, p => Sample(p.Place * track.Length), Side),
        };
    }

    private Clip Clip(EditClip clip, string id, int channels)
    {
        var (start, end) = (Sample(clip.Start), Sample(clip.End));
        var media = _composition.Media[clip.Media];
        var length = Math.Max(1, end - start);
        var name = clip.Name ?? media.FileName;
        var into = Fade(clip.FadeIn, length, name);
        if (clip.Id is { } own)
        {
            _ownClips[id] = own;
        }

        return new Clip
        {
            Id = id,
            Name = name,
            Media = clip.Media,
            ChannelMap = Enumerable.Range(0, channels).Select(c => clip.Channel > 0 ? Math.Min(clip.Channel, media.Channels) - 1 : Math.Min(c, media.Channels - 1)).ToValueArray(),
            Start = start,
            Length = length,
            SourceOffset = Math.Max(0, Sample(clip.SourceOffset)),
            GainDb = Db(clip.Gain),
            GainCurve = Gains(clip.GainCurve),
            FadeIn = into,
            FadeOut = Fade(clip.FadeOut, length - into.Length, name),
            Muted = clip.Muted,
            Note = NoteText.Of(clip.Note),
        };
    }

    private Fade Fade(EditFade? fade, long most, string clip)
    {
        if (fade is { Length.Sign: < 0 })
        {
            _findings.Add(EditCodes.FadeLength, clip, $"A fade of {clip} is said to be {fade.Length} samples long; it was left out.");
            return Core.Sessions.Fade.None;
        }

        return fade is null || most <= 0 ? Core.Sessions.Fade.None : new Fade(Math.Min(Sample(fade.Length), most), fade.Shape, fade.Curve, fade.Places);
    }

    /// <summary>
    /// Clips in their order. A crossfade's two fades are the overlap, to the sample; where two overlap without one, the earlier ends
    /// where the later begins.
    /// </summary>
    private ValueArray<Clip> Laid(IEnumerable<Clip> clips, string track)
    {
        var laid = new List<Clip>();
        foreach (var clip in clips.OrderBy(c => c.Start))
        {
            var next = clip;
            var at = laid.FindLastIndex(c => !c.Muted);
            if (at >= 0 && !clip.Muted && laid[at].End > clip.Start)
            {
                var before = laid[at];
                var overlap = before.End - clip.Start;
                var crosses = before.FadeOut.Length > 0 && clip.FadeIn.Length > 0 && overlap + before.FadeIn.Length <= before.Length + Rounding && overlap <= clip.Length;
                laid[at] = crosses ? Crossing(before, overlap) : Ended(before, clip.Start);
                next = crosses ? Crossed(clip, overlap) : clip;
                if (!crosses)
                {
                    AddOverlap(before, clip, track);
                }
            }

            laid.Add(next);
        }

        return Settled(laid, track);
    }

    // A clip that was cut short may have lost the fade under which the one before it still sounds, and three may have come to lie over each other. From the
    // right, since ending a clip earlier concerns only what lies before it.
    private ValueArray<Clip> Settled(List<Clip> laid, string track)
    {
        var settled = new Stack<Clip>();
        var (after, second) = ((Clip?)null, (Clip?)null);
        foreach (var clip in laid.AsEnumerable().Reverse())
        {
            var kept = clip;
            if (!clip.Muted && after is not null && clip.End > after.Start
                && (clip.End > second?.Start || clip.End - after.Start > Math.Min(clip.FadeOut.Length, after.FadeIn.Length)))
            {
                AddOverlap(clip, after, track);
                kept = Ended(clip, after.Start);
            }

            if (kept.Length > 0)
            {
                settled.Push(kept);
                (after, second) = kept.Muted ? (after, second) : (kept, after);
            }
        }

        return settled.ToValueArray();
    }

    private void AddOverlap(Clip before, Clip after, string track) =>
        _findings.Add(EditCodes.Overlap, track, $"{before.Name} on {track} overlaps {after.Name} by {before.End - after.Start} samples without a crossfade; it ends where the later one begins.");

    // The overlap in samples and the fade in edit units may differ by one: the overlap holds, and all stays within the clip.
    private static Clip Crossing(Clip clip, long overlap)
    {
        var into = Math.Min(clip.FadeIn.Length, clip.Length - overlap);
        return clip with { FadeIn = clip.FadeIn with { Length = into }, FadeOut = clip.FadeOut with { Length = Math.Max(overlap, Math.Min(clip.FadeOut.Length, clip.Length - into)) } };
    }

    private static Clip Crossed(Clip clip, long overlap)
    {
        var into = Math.Max(overlap, clip.FadeIn.Length);
        return clip with { FadeIn = clip.FadeIn with { Length = into }, FadeOut = clip.FadeOut with { Length = Math.Min(clip.FadeOut.Length, clip.Length - into) } };
    }

    private static Clip Ended(Clip clip, long end)
    {
        var length = Math.Max(0, end - clip.Start);
        var into = Math.Min(clip.FadeIn.Length, length);
        return clip with { Length = length, FadeIn = clip.FadeIn with { Length = into }, FadeOut = Core.Sessions.Fade.None };
    }

    private Automation? Curve(EditCurve curve, Func<EditPoint, long> place, Func<double, double> value)
    {
        if (curve.IsEmpty)
        {
            return null;
        }

        // The last of several points on one sample is what holds from there.
        var at = new SortedDictionary<long, double>();
        foreach (var point in curve.Points)
        {
            at[place(point)] = value(point.Value);
        }

        return new Automation(at.Select(p => new AutomationPoint(p.Key, p.Value)).ToValueArray(), curve.Between == EditBetween.Hold ? Interpolation.Step : Interpolation.Linear);
    }

    private Automation? Gains(EditCurve curve)
    {
        if (curve.Between == EditBetween.Straight)
        {
            for (var i = 1; i < curve.Points.Count; i++)
            {
                _bent = Math.Max(_bent, CurveMath.BendDb(Decibels.FromRatio(curve.Points[i - 1].Value), Decibels.FromRatio(curve.Points[i].Value)));
            }
        }

        return Curve(curve, p => Sample(p.Place), Db);
    }

    // A file has the ratio of two numbers near the value that was meant; a millionth of a dB is nearer than any of them need be.
    private static double Db(double ratio) => ratio == 1 ? 0 : Math.Round(Math.Max(SilentDb, Decibels.FromRatio(ratio)), 6);

    private static double Side(double pan) => Math.Round(Math.Clamp((pan * 2) - 1, -1, 1), 8);

    private long Sample(Rational place)
    {
        if (place > Farthest || place < -Farthest)
        {
            throw new BadInputException(EditCodes.PlaceTooFar, _composition.Name, string.Empty, "It says a place that lies years away.", "The file is damaged; export it again.");
        }

        _between += place.Denominator.IsOne ? 0 : 1;
        return place.RoundToEven();
    }
}
