using System.Numerics;
using Lyrotrans.Audio.Silences;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Makes clips of tracks from zero, as it was decided to cut them.</summary>
public static class CutJoin
{
    /// <param name="session">With its tracks as they came.</param>
    /// <param name="cuts">The decisions.</param>
    /// <param name="findings">Gets a line for each that cannot hold any more; its track is whole then.</param>
    public static Session Apply(Session session, IReadOnlyList<TrackCut> cuts, FindingList findings)
    {
        foreach (var cut in cuts)
        {
            var track = session.Tracks.FirstOrDefault(t => t.Id == cut.Track);
            if (track is null || Whole(session, track) is not { } whole || whole.Medium.Sha256 != cut.Sha256)
            {
                findings.Add(IntakeCodes.CutLost, track?.Name ?? cut.Track, $"{track?.Name ?? "A track"} cannot be cut at its silences any more as was decided: its sound is another, or it is gone.");
                continue;
            }

            var lane = track.Lanes[track.SoundingLane];
            var after = track with { Lanes = [.. track.Lanes.Select(l => l == lane ? l with { Clips = Pieces(whole.Clip, whole.Medium, session.Rate, cut).ToValueArray() } : l)] };
            session = session with { Tracks = [.. session.Tracks.Select(t => t.Id == cut.Track ? after : t)] };
        }

        return session;
    }

    /// <summary>The one clip of a track from zero and its medium; null where it has several, or one that was worked on.</summary>
    public static (Clip Clip, Media Medium)? Whole(Session session, Track track) =>
        track.Kind is TrackKind.Audio or TrackKind.Print or TrackKind.Stem && track.Sounding?.Clips is [{ Muted: false, GainCurve: null, FadeIn.Length: 0, FadeOut.Length: 0 } clip]
        && session.Media.FirstOrDefault(m => m.Id == clip.Media) is { Sha256: not null, IsAbsent: false } medium ? (clip, medium) : null;

    /// <summary>The frames of its medium that a clip plays.</summary>
    public static SampleRange Played(Clip clip, Media medium, SampleRate session) =>
        new(clip.SourceOffset, clip.HandleAfter(medium, session) <= 0 ? medium.Length : Math.Min(medium.Length, clip.SourceOffset + session.Convert(clip.Length, medium.Rate)));

    /// <summary>
    /// The clips that are left of one. Where the medium has another rate than the session, each begins and ends where a sample of both rates lies, a little outside
    /// of what was found: none is shifted by a fraction.
    /// </summary>
    public static IReadOnlyList<Clip> Pieces(Clip clip, Media medium, SampleRate session, TrackCut cut)
    {
        var ratio = session.PerSecond / medium.Rate.PerSecond;
        var (grid, step) = (ratio.Denominator, ratio.Numerator);
        var played = Played(clip, medium, session);
        var spans = SilenceFinder.Joined(cut.Spans
            .Select(s => new SampleRange(Math.Max(s.Start, played.Start), Math.Min(s.End, played.End))).Where(s => s.Length > 0)
            .Select(s => new SampleRange(On(s.Start, round: 0), On(s.End, round: grid - 1))));
        if (spans is [var all] && all == played)
        {
            return [clip];
        }

        return [.. spans.Select((span, i) => Piece(span, i + 1))];

        long On(long frame, BigInteger round) => (long)BigInteger.Min(played.End, played.Start + ((frame - played.Start + round) / grid * grid));
        long At(long frame) => clip.Start + (long)((frame - played.Start) / grid * step);
        Clip Piece(SampleRange span, int number)
        {
            var (start, end) = (At(span.Start), span.End == played.End ? clip.End : At(span.End));
            var fade = new Fade(Math.Min(cut.Rule.Fade(session), (end - start) / 2));
            return clip with
            {
                Id = $"{clip.Id}-{number}",
                Name = $"{clip.Name} {number}",
                Start = start,
                Length = end - start,
                SourceOffset = span.Start,
                FadeIn = span.Start > played.Start ? fade : Fade.None,
                FadeOut = span.End < played.End ? fade : Fade.None,
            };
        }
    }
}
