using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Which session samples every from-zero file covers.</summary>
public static class DeliveryRange
{
    /// <param name="session">The session.</param>
    /// <param name="preparation">Where to start, and the tail.</param>
    /// <param name="sounds">Measured sound by media id; a clip of media that was not measured counts to its end.</param>
    public static SampleRange Of(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var end = Math.Max(FilesStart.BeforeCountIn(session, preparation) + 1, preparation.ChosenEnd ?? LastSound(session, preparation, sounds).Sample + preparation.Tail);
        return new SampleRange(FilesStart.Of(session, preparation), end);
    }

    /// <summary>Why there is nothing between a chosen end and the start, in words; null where there is.</summary>
    public static string? Problem(Session session, Preparation preparation) => preparation.ChosenEnd is { } end && FilesStart.Of(session, preparation) is var start && end <= start
        ? $"The files would end at {session.TimecodeScale.At(end)} and begin at {session.TimecodeScale.At(start)}. Choose a later end, or an earlier start."
        : null;

    /// <summary>The click's own span: that of all files, or earlier by its count-in.</summary>
    public static SampleRange ForClick(this SampleRange range, Session session, Preparation preparation) => preparation.Click.CountIn == CountIn.ClickAlone
        ? new SampleRange(FilesStart.WithCountIn(session, preparation, range.Start), range.End)
        : range;

    /// <summary>Samples by which the longest tail of an effect is cut off by the limit; 0 where none is.</summary>
    public static long CutTail(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds) =>
        preparation.ChosenEnd is null ? LastSound(session, preparation, sounds).Cut : 0;

    /// <summary>One past the last sample of any sound or note that goes, with the tails of the effects that it goes through.</summary>
    private static (long Sample, long Cut) LastSound(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var tails = new Tails(session, preparation);
        var cut = 0L;
        var going = preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
        var media = session.Media.ToDictionary(m => m.Id);
        var clock = session.Clock;
        var last = 0L;
        var roles = TrackRoles.Of(session);

        // A track may go with its own clips, with those of its print, or with both.
        var sounding = session.Tracks.Where(t => going.Contains(t.Id)).SelectMany(t => roles.PrintOf(t.Id) is null ? [t] : new[] { t, roles.Sounding(t) })
            .Concat(session.Tracks.Where(t => !going.Contains(t.Id) && tails.IsHeard(t)).Select(roles.Sounding));
        foreach (var track in sounding.Concat(Brought(session, preparation, roles)))
        {
            var tail = Math.Min(tails.Of(track), tails.Limit);
            cut = Math.Max(cut, track.HasContent ? tails.Of(track) - tail : 0);
            // Latest first: where sounds are measured when they are asked for, most need not be.
            foreach (var clip in track.Sounding?.Clips.Where(c => !c.Muted && c.End + tail > last).OrderByDescending(c => c.End) ?? Enumerable.Empty<Clip>())
            {
                last = clip.End + tail > last ? Math.Max(last, EndOfSound(clip, media[clip.Media], sounds, session) + tail) : last;
            }

            foreach (var part in track.Parts.Where(p => !p.Muted && p.Notes.Count > 0))
            {
                last = Math.Max(last, clock.SampleAt(part.EndQuarter) + tail);
            }
        }

        return (last, cut);
    }

    /// <summary>Sound that was made elsewhere and goes in files of no track.</summary>
    private static IEnumerable<Track> Brought(Session session, Preparation preparation, TrackRoles roles)
    {
        var stems = preparation.Mix.HasMix ? session.Tracks.Where(t => t.Kind == TrackKind.Stem) : [];
        var prints = preparation.Mix.HasMix ? session.Tracks.Where(t => t.Kind == TrackKind.Print) : [];
        return stems.Concat(prints).Concat(preparation.Mix.Guide && roles.Guide is { } guide ? [guide] : []);
    }

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
