using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Flags;

/// <summary>Faults of editing that the session itself shows.</summary>
/// <param name="facts">All that is known of it.</param>
internal sealed class EditFlags(FlagFacts facts)
{
    // −50 dBFS: what jumps by less is not heard; nor is what jumps no further than the sound moves there anyway.
    private const double LeastStep = 3e-3;
    private const double MovesOfStep = 2;
    private readonly Session _session = facts.Session;

    // Nobody means a pause of 5 ms between two clips.
    private static readonly Rational s_longestGap = new(5, 1000);

    public IEnumerable<Flag> All() => _session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(t => Gaps(t).Concat(Steps(t))).Concat(Doubled());

    private long LongestGap => _session.Rate.SamplesIn(s_longestGap).RoundToEven();

    private static IReadOnlyList<Clip> Sounding(Track track) => [.. (track.Sounding?.Clips ?? []).Where(c => !c.Muted)];

    private IEnumerable<Flag> Gaps(Track track)
    {
        var (clips, longest) = (Sounding(track), LongestGap);
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

    // From nothing or from the clip before to a clip's first sample, and from its last to nothing.
    private IEnumerable<Flag> Steps(Track track)
    {
        var clips = Sounding(track);
        for (var i = 0; i < clips.Count; i++)
        {
            var (clip, before, after) = (clips[i], i > 0 ? clips[i - 1] : null, i + 1 < clips.Count ? clips[i + 1] : null);
            if (!facts.Edges.TryGetValue(clip.Id, out var edges))
            {
                continue;
            }

            var joins = before?.End == clip.Start && before.FadeOut.Length == 0 ? facts.Edges.GetValueOrDefault(before.Id)?.Last : null;
            var step = Step(edges.First, Gain(clip), joins, before is null ? 1 : Gain(before));
            if (clip.FadeIn.Length == 0 && step > 0 && (before is null || before.End < clip.Start - LongestGap || before.End == clip.Start))
            {
                yield return At(track, clip, $"{clip.Name} on {track.Name} begins with a jump", step, clip.Start);
            }

            var end = Step(edges.Last, Gain(clip), null, 1);
            if (clip.FadeOut.Length == 0 && end > 0 && (after is null || after.Start > clip.End + LongestGap || (after.Start == clip.End && after.FadeIn.Length > 0)))
            {
                yield return At(track, clip, $"{clip.Name} on {track.Name} ends with a jump", end, clip.End);
            }
        }
    }

    private static Flag At(Track track, Clip clip, string title, double step, long sample) =>
        new(FlagKinds.EdgeStep, title, $"By {Decibels.Words(Decibels.FromRatio(step))} dBFS from one sample to the next; a fade of a few milliseconds takes it away", track.Id, clip.Id, sample);

    private static double Gain(Clip clip) => Decibels.ToRatio(clip.GainDb);

    // How far an edge jumps; 0 where it is not heard.
    private static double Step(EdgeSound edge, double gain, EdgeSound? beside, double gainBeside)
    {
        var step = edge.Values.Select((v, c) => Math.Abs((v * gain) - ((beside?.Values.ElementAtOrDefault(c) ?? 0) * gainBeside))).DefaultIfEmpty(0).Max();
        return step >= LeastStep && step >= MovesOfStep * Math.Max(edge.Move * gain, (beside?.Move ?? 0) * gainBeside) ? step : 0;
    }

    // Of one file, at one place, from the same channels: it is louder by 6 dB, and a moved one of them combs.
    private IEnumerable<Flag> Doubled()
    {
        var playing = _session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(t => Sounding(t).Select(c => (Track: t, Clip: c)));
        var media = _session.Media.ToDictionary(m => m.Id);
        foreach (var same in playing.GroupBy(p => (p.Clip.Media, p.Clip.ChannelMap, At: p.Clip.Start - media[p.Clip.Media].Rate.Convert(p.Clip.SourceOffset, _session.Rate))))
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
