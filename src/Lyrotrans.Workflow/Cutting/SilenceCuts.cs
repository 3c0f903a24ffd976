using Lyrotrans.Audio.Silences;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Cutting;

/// <summary>Tracks from zero, one file each, that can be cut back to clips at their silences.</summary>
public static class SilenceCuts
{
    /// <summary>Those that can be cut: one clip that nothing was done to.</summary>
    /// <param name="whole">The session with nothing cut.</param>
    public static IReadOnlyList<Track> Of(Session whole) => [.. whole.Tracks.Where(t => CutJoin.Whole(whole, t) is not null)];

    /// <summary>Where tracks would be cut, and what would be left out; several at once.</summary>
    /// <param name="whole">The session with nothing cut.</param>
    /// <param name="tracks">Some of <see cref="Of"/>.</param>
    /// <param name="rule">What is silence.</param>
    /// <param name="files">The session's media.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <exception cref="Core.Errors.BadInputException">A file cannot be read.</exception>
    public static IReadOnlyList<CutTrack> Measure(Session whole, IReadOnlyList<Track> tracks, CutRule rule, IMediaFiles files, CancellationToken stop)
    {
        var opener = new MediaOpener(files, whole.Rate);
        return AtOnce.Select([.. tracks.Where(t => CutJoin.Whole(whole, t) is { } w && files.FileOf(w.Medium) is not null)], t => Measure(whole, t, rule, opener, stop), stop);
    }

    private static CutTrack Measure(Session whole, Track track, CutRule rule, MediaOpener opener, CancellationToken stop)
    {
        var (clip, medium) = CutJoin.Whole(whole, track)!.Value;
        var played = CutJoin.Played(clip, medium, whole.Rate);
        using var source = opener.Open(medium)!;
        var sounds = SilenceFinder.Sounds(source, played, rule.For(medium.Rate), stop);
        var cut = new TrackCut(track.Id, medium.Sha256!, rule, [.. sounds.SelectMany(s => new[] { s.Start, s.End })]);
        var pieces = CutJoin.Pieces(clip, medium, whole.Rate, cut);
        var kept = pieces.Select(p => new KeptSpan(CutJoin.Played(p, medium, whole.Rate), InFrames(p.FadeIn), InFrames(p.FadeOut))).ToList();
        return new CutTrack(cut, track.Name, medium, clip, pieces, SilenceFinder.ResidualPeak(source, played, kept, stop));

        Fade InFrames(Fade fade) => fade with { Length = whole.Rate.Convert(fade.Length, medium.Rate) };
    }
}
