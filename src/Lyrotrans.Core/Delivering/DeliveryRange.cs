using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Which session samples from-zero files cover.</summary>
public static class DeliveryRange
{
    /// <param name="session">The session.</param>
    /// <param name="preparation">Where to start, and the tail.</param>
    /// <param name="sounds">Measured sound by media id; a clip of media that was not measured counts to its end.</param>
    public static SampleRange Of(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var end = Math.Max(FilesStart.BeforeCountIn(session, preparation) + 1, preparation.ChosenEnd is { } chosen ? chosen + preparation.EndTail : Sounding(session, preparation, sounds).Last + preparation.Tail);
        return new SampleRange(FilesStart.Of(session, preparation), end);
    }

    /// <summary>What the files of a kind cover.</summary>
    /// <param name="session">The session.</param>
    /// <param name="preparation">What goes.</param>
    /// <param name="kind">Of files.</param>
    /// <param name="range">What they are to cover.</param>
    /// <param name="all">What all files cover.</param>
    /// <param name="sounds">Measured sound by media id; a clip of media that was not measured sounds from its start to its end.</param>
    public static SampleRange OfKind(Session session, Preparation preparation, FileKind kind, FileRange range, SampleRange all, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        switch (range)
        {
            case FileRange.SessionStart:
                return all with { Start = 0 };
            case FileRange.Bar1:
                return all with { Start = session.Bar1Sample };
            case FileRange.Sound:
                var (first, last, _) = Sounding(session, preparation, sounds, SoundingIn(session, preparation, kind));
                var start = Math.Clamp(first, all.Start, Math.Max(all.Start, all.End - 1));
                return new SampleRange(start, Math.Clamp(last, start + 1, Math.Max(start + 1, all.End)));
            case FileRange.Chosen:
                var own = preparation.Kinds[kind];
                return new SampleRange(own.Start ?? all.Start, own.End ?? all.End);
            default:
                return all;
        }
    }

    /// <summary>Why there is nothing between a chosen end and the start, in words; null where there is.</summary>
    public static string? Problem(Session session, Preparation preparation) => preparation.ChosenEnd is { } end && FilesStart.Of(session, preparation) is var start && end <= start
        ? $"The files would end at {session.TimecodeScale.At(end)} and begin at {session.TimecodeScale.At(start)}. Choose a later end, or an earlier start."
        : null;

    /// <summary>Why the files of a kind would cover nothing, in words; null where none do.</summary>
    /// <param name="session">The session.</param>
    /// <param name="kinds">What those of each kind cover.</param>
    /// <param name="chosen">What was chosen of each kind.</param>
    public static string? Problem(Session session, Func<FileKind, SampleRange> kinds, KindChoices chosen) => Choices.FileKinds
        .Where(k => chosen[k.Value].Range == FileRange.Chosen && kinds(k.Value).Length <= 0)
        .Select(k => $"The files of {k.Words} would end at {session.TimecodeScale.At(kinds(k.Value).End)} and begin at {session.TimecodeScale.At(kinds(k.Value).Start)}. Choose a later end for them, or an earlier start.").FirstOrDefault();

    /// <summary>The click's own span: that of all files, or earlier by its count-in.</summary>
    public static SampleRange ForClick(this SampleRange range, Session session, Preparation preparation) => preparation.Click.CountIn == CountIn.ClickAlone
        ? new SampleRange(FilesStart.WithCountIn(session, preparation, range.Start), range.End)
        : range;

    /// <summary>Samples by which the longest tail of an effect is cut off by the limit; 0 where none is.</summary>
    public static long CutTail(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds) =>
        preparation.ChosenEnd is null ? Sounding(session, preparation, sounds).Cut : 0;

    /// <summary>The tracks that are heard in the files of a kind.</summary>
    private static IReadOnlySet<string> SoundingIn(Session session, Preparation preparation, FileKind kind) => kind switch
    {
        FileKind.Stems => StemGroup.AllOf(session, preparation),
        FileKind.GuideMix or FileKind.FinishedMix => MixTracks.Of(session, preparation),
        FileKind.Returns => MixTracks.Of(session, preparation).Concat(MixTracks.Going(preparation)).ToHashSet(),
        _ => MixTracks.Going(preparation),
    };

    /// <summary>The first sample of any sound or note that goes, and one past the last with the tails of the effects that it goes through; of some tracks only, or of all. A last sample needs no first.</summary>
    private static (long First, long Last, long Cut) Sounding(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds, IReadOnlySet<string>? only = null)
    {
        var tails = new Tails(session, preparation);
        var cut = 0L;
        var going = preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
        var media = session.Media.ToDictionary(m => m.Id);
        var clock = session.Clock;
        var last = 0L;
        var first = long.MaxValue;
        var roles = TrackRoles.Of(session);

        // A track may go with its own clips, with those of its print, or with both.
        var sounding = session.Tracks.Where(t => going.Contains(t.Id)).SelectMany(t => roles.PrintOf(t.Id) is null ? [t] : new[] { t, roles.Sounding(t) })
            .Concat(session.Tracks.Where(t => !going.Contains(t.Id) && tails.IsHeard(t)).Select(roles.Sounding));
        foreach (var track in only is null ? sounding.Concat(Brought(session, preparation, roles)) : session.Tracks.Where(t => only.Contains(t.Id)).Select(roles.Sounding))
        {
            var tail = Math.Min(tails.Of(track), tails.Limit);
            cut = Math.Max(cut, track.HasContent ? tails.Of(track) - tail : 0);
            // Where only the last is asked for, no clip's beginning need be measured.
            foreach (var clip in only is null ? Enumerable.Empty<Clip>() : track.Sounding?.Clips.Where(c => !c.Muted && c.Start < first) ?? [])
            {
                first = Math.Min(first, StartOfSound(clip, media[clip.Media], sounds, session));
            }

            // Latest first: where sounds are measured when they are asked for, most need not be.
            foreach (var clip in track.Sounding?.Clips.Where(c => !c.Muted && c.End + tail > last).OrderByDescending(c => c.End) ?? Enumerable.Empty<Clip>())
            {
                last = clip.End + tail > last ? Math.Max(last, EndOfSound(clip, media[clip.Media], sounds, session) + tail) : last;
            }

            foreach (var part in track.Parts.Where(p => !p.Muted && p.Notes.Count > 0))
            {
                first = Math.Min(first, clock.SampleAt(part.StartQuarter + new Rational(part.Notes[0].Tick, part.TicksPerQuarter)));
                last = Math.Max(last, clock.SampleAt(part.EndQuarter) + tail);
            }
        }

        return (first == long.MaxValue ? 0 : first, last, cut);
    }

    /// <summary>Sound that was made elsewhere and goes in files of no track.</summary>
    private static IEnumerable<Track> Brought(Session session, Preparation preparation, TrackRoles roles)
    {
        var stems = preparation.Mix.HasMix ? session.Tracks.Where(t => t.Kind == TrackKind.Stem) : [];
        var prints = preparation.Mix.HasMix ? session.Tracks.Where(t => t.Kind == TrackKind.Print) : [];
        return stems.Concat(prints).Concat(preparation.Mix.Guide && roles.Guide is { } guide ? [guide] : []);
    }

    private static long StartOfSound(Clip clip, Media media, IReadOnlyDictionary<string, MediaSound> sounds, Session session) =>
        sounds.TryGetValue(media.Id, out var sound) ? Math.Clamp(clip.Start + media.Rate.Convert(sound.FirstSound - clip.SourceOffset, session.Rate), clip.Start, clip.End) : clip.Start;

    private static long EndOfSound(Clip clip, Media media, IReadOnlyDictionary<string, MediaSound> sounds, Session session)
    {
        if (!sounds.TryGetValue(media.Id, out var sound))
        {
            return clip.End;
        }

        var ends = clip.Start + media.Rate.Convert(sound.EndOfSound - clip.SourceOffset, session.Rate);
        return Math.Clamp(ends, clip.Start, clip.End);
    }
}
