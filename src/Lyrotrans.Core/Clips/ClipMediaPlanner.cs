using System.Globalization;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clips;

/// <summary>
/// Settles which sound files kept clips need. Whole media once each; trimmed ones as the spans that clips and their handles cover, joined where
/// they meet; sound that is made, once for each clip.
/// </summary>
internal sealed class ClipMediaPlanner(Session session, Preparation preparation, Rational unit, ClipNotes notes)
{
    private readonly ClipChoices _choices = preparation.Clips;
    private readonly Dictionary<string, Media> _session = session.Media.ToDictionary(m => m.Id);
    private readonly long _handle = preparation.Clips.HandleSamples(session.Rate, session.FrameRate);
    private readonly Dictionary<(string Media, ValueArray<int> Channels, long Phase), List<(long Start, long End)>> _spans = [];
    private readonly Dictionary<(string Media, ValueArray<int> Channels, long Phase, long Start), ClipMedia> _settled = [];
    private readonly Dictionary<ClipPiece, ClipMedia> _own = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<string, ClipMedia> _ownById = [];
    private readonly TakenNames _names = new(SameName.Comparer);
    private readonly Dictionary<(string Media, ValueArray<int> Channels, long Phase), string> _firstTracks = [];
    private readonly Dictionary<string, int> _perTrack = [];

    public List<ClipShortfall> Shortfalls { get; } = [];

    public List<ClipShift> Shifts { get; } = [];

    private bool OnFrames => unit != 1;

    private bool IsTrimmed => _choices.Trimmed;

    /// <summary>Hears of a track's clips; all must be heard before <see cref="Settle"/>.</summary>
    public void Add(Track track, List<ClipPiece> pieces)
    {
        foreach (var piece in pieces)
        {
            if (piece.IsMade)
            {
                _own[piece] = Once(Made(track, piece), track);
                continue;
            }

            var (start, end) = Wanted(track, piece);
            var key = (piece.Clip.Media, piece.Clip.ChannelMap, Phase: PhaseOf(piece.Clip));
            if (OnFrames && IsTrimmed)
            {
                _own[piece] = Once(Slice(piece.Clip.Media, piece.Clip.ChannelMap, key.Phase, OnFrame(piece, start), end, "_001"), track);
                continue;
            }

            if (!_spans.TryGetValue(key, out var spans))
            {
                spans = _spans[key] = [];
                _firstTracks[key] = track.Name;
            }

            spans.Add((start, end));
        }
    }

    // Two clips of the very same sound have one medium.
    private ClipMedia Once(ClipMedia medium, Track track)
    {
        if (_ownById.TryGetValue(medium.Media.Id, out var same))
        {
            return same;
        }

        return _ownById[medium.Media.Id] = Called(medium, track.Name);
    }

    // What is missing keeps its name whatever was chosen: the receiver may have it.
    private ClipMedia Called(ClipMedia medium, string track)
    {
        var name = medium.Media.FileName;
        if (_choices.NamedAfterTracks && !medium.IsMissing)
        {
            var number = _perTrack[track] = _perTrack.GetValueOrDefault(track) + 1;
            name = $"{LegalName.From(Sendable(track.Replace('.', '_')))}_{number.ToString("00", CultureInfo.InvariantCulture)}{Path.GetExtension(name)}";
        }

        return medium with { Media = medium.Media with { FileName = _names.FreeFile(name, '_') } };
    }

    /// <summary>Joins spans that meet and names the files.</summary>
    public void Settle()
    {
        foreach (var (key, spans) in _spans)
        {
            var joined = Joined(spans);
            for (var i = 0; i < joined.Count; i++)
            {
                var suffix = joined.Count == 1 ? string.Empty : string.Create(CultureInfo.InvariantCulture, $"_{i + 1:000}");
                var slice = Slice(key.Media, key.Channels, key.Phase, joined[i].Start, joined[i].End, suffix);
                _settled[(key.Media, key.Channels, key.Phase, joined[i].Start)] = Called(slice, _firstTracks[key]);
            }

            spans.Clear();
            spans.AddRange(joined);
        }
    }

    /// <summary>The clip over its settled medium.</summary>
    public Clip Placed(Track track, ClipPiece piece)
    {
        var medium = MediumOf(piece);
        var place = piece.IsMade ? piece.Clip.Start - piece.Moved : Offset(piece.Clip);
        var offset = place + piece.Moved - medium.Range.Start;
        var kept = OnFrames ? Math.Max(0, ((offset / unit).RoundToEven() * unit).RoundToEven()) : offset;
        if (kept != offset)
        {
            notes.Count("Clips that begin between two frames of their medium: {0}; their sound moves by up to {1} samples. Trimmed media would keep it.", Math.Abs(kept - offset));
        }

        return new Clip
        {
            Id = string.Empty,
            Name = Path.GetFileNameWithoutExtension(medium.Media.FileName),
            Media = medium.Media.Id,
            ChannelMap = Enumerable.Range(0, track.Channels).ToValueArray(),
            Start = piece.Clip.Start,
            Length = piece.Clip.Length,
            SourceOffset = kept,
            GainDb = piece.Clip.GainDb,
            GainCurve = piece.Clip.GainCurve,
            FadeIn = piece.Clip.FadeIn,
            FadeOut = piece.Clip.FadeOut,
            Muted = piece.Clip.Muted,
            Note = piece.Clip.Note,
        };
    }

    /// <summary>The media in the order in which clips first use them, with their place on the timeline as their time stamp.</summary>
    public List<ClipMedia> Media(ValueArray<Track> tracks)
    {
        var made = _settled.Values.Concat(_ownById.Values).ToDictionary(m => m.Media.Id);
        return tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).DistinctBy(c => c.Media).Select(c => Stamped(made[c.Media], c)).ToList();
    }

    private ClipMedia Stamped(ClipMedia medium, Clip clip)
    {
        if (!_choices.MediaForm.IsWave() || medium.IsMissing)
        {
            return medium with { Media = medium.Media with { TimeReference = null } };
        }

        // A whole medium keeps the stamp it came with.
        var day = session.Rate.SamplesIn(new Rational(session.FrameRate.FramesPerDay, 1) / session.FrameRate.PerSecond).RoundToEven();
        var stamp = medium.Media.TimeReference ?? session.TimecodeScale.TimeReference(clip.Start - clip.SourceOffset, session.Rate) % day;
        return medium with { Media = medium.Media with { TimeReference = stamp < 0 ? stamp + day : stamp } };
    }

    private ClipMedia MediumOf(ClipPiece piece)
    {
        if (_own.TryGetValue(piece, out var own))
        {
            return own;
        }

        var offset = Offset(piece.Clip);
        var phase = PhaseOf(piece.Clip);
        var spans = _spans[(piece.Clip.Media, piece.Clip.ChannelMap, phase)];
        var at = spans.FindLastIndex(s => s.Start <= offset);
        return _settled[(piece.Clip.Media, piece.Clip.ChannelMap, phase, spans[Math.Max(0, at)].Start)];
    }

    private RateGrid Grid(Clip clip) => new(_session[clip.Media].Rate, session.Rate);

    // Whole media are converted once, from their first sample on; trimmed ones so that the clip's first sample falls on a sample.
    private long PhaseOf(Clip clip) => IsTrimmed ? Grid(clip).Anchor(clip.SourceOffset, clip.SourcePart).Phase : 0;

    // In session samples, from the medium's phase.
    // Clips that were cut from one recording move alike, whether they begin at an odd sample or an even one.
    private long Offset(Clip clip) => IsTrimmed ? Grid(clip).Anchor(clip.SourceOffset, clip.SourcePart).Place
        : clip.SourcePart.Sign == 0 ? Exact(clip).RoundToEven()
        : clip.Start - (new Rational(clip.Start, 1) - Exact(clip)).RoundToEven();

    private Rational Exact(Clip clip) => Grid(clip).Exact(new Rational(clip.SourceOffset, 1) + clip.SourcePart);

    // In session samples, from a phase on.
    private long Length(string media, long phase) => _session[media].Rate.Convert(_session[media].Length - phase, session.Rate);

    /// <summary>The span of its media that a clip needs, in session samples from the media's start.</summary>
    private (long Start, long End) Wanted(Track track, ClipPiece piece)
    {
        var (length, offset) = (Length(piece.Clip.Media, PhaseOf(piece.Clip)), Offset(piece.Clip));
        Shift(track, piece.Clip, offset);
        var (from, to) = (offset + piece.Moved, offset + piece.Moved + piece.Clip.Length);
        if (!IsTrimmed)
        {
            if (to > length)
            {
                notes.Count("Clips that run past the end of their media: {0}, by up to {1} samples; silence is added to the media there.", to - length);
            }

            return (0, Math.Max(length, to));
        }

        var (before, after) = (Math.Clamp(from, 0, _handle), Math.Clamp(length - to, 0, _handle));
        Short(track, piece, true, before);
        Short(track, piece, false, after);
        return (from - before, to + after);
    }

    private void Shift(Track track, Clip clip, long offset)
    {
        var moved = IsTrimmed ? 0 : (new Rational(offset, 1) - Exact(clip)).ToDouble();
        if (moved != 0)
        {
            Shifts.Add(new ClipShift(track.Name, clip.Name, moved));
            notes.Count("Clips that begin between two samples of their converted medium: {0}; their sound moves by up to {1} of a sample. Trimmed media keep it.", Math.Abs(moved));
        }
    }

    private void Short(Track track, ClipPiece piece, bool before, long has)
    {
        if (has < _handle)
        {
            Shortfalls.Add(new ClipShortfall(track.Name, piece.Clip.Name, before, _handle, has));
        }
    }

    // So many whole frames before the clip's first sample that the sound lies on its sample.
    private long OnFrame(ClipPiece piece, long wanted)
    {
        var first = Offset(piece.Clip) + piece.Moved;
        var frames = ((first - wanted) / unit).Ceiling();
        return first - ((long)frames * unit).RoundToEven();
    }

    private static List<(long Start, long End)> Joined(List<(long Start, long End)> spans)
    {
        var joined = new List<(long Start, long End)>();
        foreach (var span in spans.OrderBy(s => s.Start))
        {
            if (joined.Count > 0 && span.Start <= joined[^1].End)
            {
                joined[^1] = (joined[^1].Start, Math.Max(joined[^1].End, span.End));
            }
            else
            {
                joined.Add(span);
            }
        }

        return joined;
    }

    /// <summary>A span of a medium's own sound.</summary>
    private ClipMedia Slice(string id, ValueArray<int> channels, long phase, long start, long end, string suffix)
    {
        var media = _session[id];
        var whole = start == 0 && end == Length(id, phase) && channels.SequenceEqual(Enumerable.Range(0, media.Channels)) && media.Rate == session.Rate;
        if (media.Rate != session.Rate)
        {
            notes.Say($"{media.FileName} is at {media.Rate} and is converted to the session's {session.Rate}.");
        }

        var clip = new Clip { Id = "medium", Name = media.FileName, Media = id, ChannelMap = channels, Length = Length(id, phase), SourceOffset = phase };
        var encoding = EncodingOf(media);
        var made = new Media
        {
            Id = whole && encoding == media.Encoding && IsId(id) ? id : IdOf($"{Identity(media)}\n{string.Join(',', channels)}\n{start}\n{end}\n{encoding}{(phase == 0 ? string.Empty : $"\n{phase}")}{Noise(media, encoding)}"),
            FileName = Named(Sendable(BaseOf(media)) + ChannelSuffix(media, channels) + suffix, media),
            Rate = session.Rate,
            Encoding = encoding,
            Channels = channels.Count,
            Length = end - start,
            Place = MediaPlace.Missing,
            TimeReference = whole ? media.TimeReference : null,
        };
        return new ClipMedia(WithId(made), Sounding(made, [clip]), new SampleRange(start, end), media.IsAbsent, false);
    }

    /// <summary>Sound with gain, fades or a ride in it, with handles where no fade was printed.</summary>
    private ClipMedia Made(Track track, ClipPiece piece)
    {
        var (first, last) = (piece.Baked[0], piece.Baked[^1]);
        var before = first.FadeIn.Length > 0 ? 0 : Math.Clamp(first.HandleBefore(_session[first.Media], session.Rate), 0, _handle);
        var after = last.FadeOut.Length > 0 ? 0 : Math.Clamp(last.HandleAfter(_session[last.Media], session.Rate), 0, _handle);
        if (IsTrimmed && first.FadeIn.Length == 0)
        {
            Short(track, piece, true, before);
        }

        if (IsTrimmed && last.FadeOut.Length == 0)
        {
            Short(track, piece, false, after);
        }

        // Handles are the same clips, longer, by what is whole at both rates; a curve holds its value beyond its ends.
        var clips = piece.Baked.ToList();
        before -= before % Grid(first).To;
        clips[0] = Earlier(clips[0], before);
        clips[^1] = clips[^1] with { Length = clips[^1].Length + after };
        var start = first.Start - before;
        if (OnFrames)
        {
            start = first.Start + piece.Moved - ((long)((first.Start + piece.Moved - start) / unit).Ceiling() * unit).RoundToEven();
        }

        var end = Math.Max(last.End + after, piece.Clip.End);
        var media = _session[first.Media];
        notes.Count("Media made for their clip, with what was to be printed in them: {0}.");
        var made = new Media
        {
            Id = IdOf($"{Identity(media)}\n{track.Name}\n{start}\n{end}\n{ForForm(preparation.Encoding)}{Noise(null, ForForm(preparation.Encoding))}\n{string.Join('\n', clips.Select(c => FormattableString.Invariant($"{c.Media} {c.Start} {c.Length} {c.SourceOffset} {c.GainDb:R} {Words(c.GainCurve)} {Words(c.FadeIn)} {Words(c.FadeOut)} {string.Join(',', c.ChannelMap)}")))}"),
            FileName = Named(Sendable(BaseOf(media)) + "_printed", media),
            Rate = session.Rate,
            Encoding = ForForm(preparation.Encoding),
            Channels = track.Channels,
            Length = end - start,
            Place = MediaPlace.Missing,
        };
        return new ClipMedia(WithId(made), Sounding(made, clips), new SampleRange(start, end), clips.TrueForAll(c => _session[c.Media].IsAbsent), true);
    }

    private Clip Earlier(Clip clip, long by) => by == 0 ? clip : clip with
    {
        Start = clip.Start - by,
        Length = clip.Length + by,
        SourceOffset = Math.Max(0, clip.SourceOffset - (by / Grid(clip).To * Grid(clip).From)),
        GainCurve = CurveMath.Shifted(clip.GainCurve, by),
    };

    // Sound that loses bits is another with another noise; sound that is computed loses them always.
    private string Noise(Media? media, SampleEncoding encoding) =>
        media is not null && media.Rate == session.Rate && media.Encoding.Precision() <= encoding.Precision() ? string.Empty : $"\n{preparation.Dither} {preparation.DitherTo24}";

    private string IdOf(string identity) => _choices.Format.MediaId(identity);

    private bool IsId(string id) => _choices.Format.IsMediaId(id);

    private static Media WithId(Media media) => media with { Identifiers = [media.Id] };

    private static Track Sounding(Media made, List<Clip> clips) => new() { Id = made.Id, Name = made.FileName, Channels = made.Channels, Lanes = [new Lane("medium", [.. clips.Select(c => c with { Muted = false })])] };

    private static string Identity(Media media) => media.Sha256 ?? $"{media.Id}\n{media.FileName}\n{media.Length}";

    private string Sendable(string name) => _choices.Format.HasAsciiNames ? AsciiText.Of(name) : name;

    private static string BaseOf(Media media) => LegalName.From(Path.GetFileNameWithoutExtension(media.FileName.Replace('\\', '/').Split('/')[^1]));

    private static string ChannelSuffix(Media media, ValueArray<int> channels) => channels.Count != 1 || media.Channels == 1
        ? string.Empty
        : media.Channels == 2 ? channels[0] == 0 ? ".L" : ".R" : string.Create(CultureInfo.InvariantCulture, $".{channels[0] + 1}");

    // A medium that is not there keeps its name: the receiver may have it.
    private string Named(string name, Media media)
    {
        if (media.IsAbsent)
        {
            notes.Say($"{media.FileName} is missing; its clips go with its name and without sound.");
        }

        return name + (_choices.MediaForm.IsAiff() ? ".aif" : ".wav");
    }

    /// <summary>The medium's own encoding where the form can hold it.</summary>
    private SampleEncoding EncodingOf(Media media)
    {
        var plain = media.Encoding switch
        {
            SampleEncoding.Unsigned8 or SampleEncoding.Signed8 => SampleEncoding.Integer16,
            SampleEncoding.Float64 => SampleEncoding.Float32,
            var own => own,
        };
        var formed = ForForm(plain);
        if (formed.Precision() < media.Encoding.Precision() && media.Encoding != SampleEncoding.Float64)
        {
            notes.Say($"{media.FileName} is {media.Encoding.Words()} and goes as {formed.Words()}, as {(_choices.Depth == ClipDepth.Own ? "this form holds no more" : "was chosen")}.");
        }

        return formed;
    }

    private SampleEncoding ForForm(SampleEncoding encoding) => _choices.Depth switch
    {
        ClipDepth.Integer16 => SampleEncoding.Integer16,
        ClipDepth.Integer24 => SampleEncoding.Integer24,
        _ => _choices.Format.Depths.Contains(encoding) && (!encoding.IsFloat() || _choices.MediaForm.IsWave()) ? encoding : SampleEncoding.Integer24,
    };

    private static string Words(Fade fade) => FormattableString.Invariant($"{fade.Length} {fade.Shape}") + string.Concat(fade.Curve.Concat(fade.Places).Select(v => FormattableString.Invariant($" {v:R}")));

    private static string Words(Automation? curve) =>
        curve is null ? "-" : string.Join(' ', curve.Points.Select(p => FormattableString.Invariant($"{p.Sample}:{p.Value:R}"))) + curve.Interpolation;
}
