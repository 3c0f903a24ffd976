using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Flags;

/// <summary>Faults of editing that the session itself shows.</summary>
/// <param name="session">What was edited.</param>
internal sealed class EditFlags(Session session)
{
    // Nobody means a pause of 5 ms between two clips.
    private static readonly Rational s_longestGap = new(5, 1000);

    public IEnumerable<Flag> All() => session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(Gaps).Concat(Doubled());

    private static IReadOnlyList<Clip> Sounding(Track track) => [.. (track.Sounding?.Clips ?? []).Where(c => !c.Muted)];

    private IEnumerable<Flag> Gaps(Track track)
    {
        var (clips, longest) = (Sounding(track), session.Rate.SamplesIn(s_longestGap).RoundToEven());
        for (var i = 1; i < clips.Count; i++)
        {
            // What is faded out and in again on both sides is a pause that was made.
            var (before, after) = (clips[i - 1], clips[i]);
            var gap = after.Start - before.End;
            if (gap > 0 && gap <= longest && (before.FadeOut.Length == 0 || after.FadeIn.Length == 0))
            {
                yield return new(FlagKinds.EditGap, $"{Phrases.Count((int)gap, "sample")} of nothing between {before.Name} and {after.Name} on {track.Name}", "It clicks; let one of them begin or end there", track.Id, after.Id, before.End);
            }
        }
    }

    // Of one file, at one place, from the same channels: it is louder by 6 dB, and a moved one of them combs.
    private IEnumerable<Flag> Doubled()
    {
        var playing = session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(t => Sounding(t).Select(c => (Track: t, Clip: c)));
        var media = session.Media.ToDictionary(m => m.Id);
        foreach (var same in playing.GroupBy(p => (p.Clip.Media, p.Clip.ChannelMap, At: p.Clip.Start - media[p.Clip.Media].Rate.Convert(p.Clip.SourceOffset, session.Rate))))
        {
            var inOrder = same.OrderBy(p => p.Clip.Start).ToList();
            for (var i = 1; i < inOrder.Count; i++)
            {
                var (first, second) = (inOrder[i - 1], inOrder[i]);
                if (second.Clip.Start < first.Clip.End && first.Track.Id != second.Track.Id)
                {
                    yield return new(
                        FlagKinds.Doubled, $"{first.Track.Name} and {second.Track.Name} play the same sound at the same place",
                        $"{Digits.Grouped(Math.Min(first.Clip.End, second.Clip.End) - second.Clip.Start)} samples of {first.Clip.Name}", second.Track.Id, second.Clip.Id, second.Clip.Start);
                }
            }
        }
    }
}
