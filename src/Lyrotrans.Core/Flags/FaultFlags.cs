using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Flags;

/// <summary>What is wrong with the sound that clips play.</summary>
/// <param name="facts">All that is known of it.</param>
internal sealed class FaultFlags(FlagFacts facts)
{
    // A mean of less than a second says nothing: a drum need not swing evenly.
    private const int OffsetSeconds = 1;

    public IEnumerable<Flag> All()
    {
        var clips = facts.Session.Tracks.Where(t => t.State == TrackState.Active).SelectMany(t => (t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => (Track: t, Clip: c))).ToLookup(u => u.Clip.Media);
        return facts.Session.Media.Where(m => clips[m.Id].Any()).SelectMany(m => Offset(m, clips[m.Id].First())
            .Concat(facts.Faults.TryGetValue(m.Id, out var faults) ? Silent(m, faults, [.. clips[m.Id]]).Concat(clips[m.Id].SelectMany(u => Inside(m, faults, u.Track, u.Clip))) : []));
    }

    private IEnumerable<Flag> Offset(Media media, (Track Track, Clip Clip) first)
    {
        if (facts.Levels.TryGetValue(media.Id, out var levels) && levels.OffsetDb > SoundLevels.OffsetMattersDb && media.Length >= media.Rate.SamplesIn(OffsetSeconds).RoundToEven())
        {
            yield return new(FlagKinds.Offset, $"{media.ShortName} has a DC offset", $"Its samples lie {Decibels.Words(levels.OffsetDb)} dBFS beside 0 on average; a high-pass filter takes it away", first.Track.Id, first.Clip.Id, first.Clip.Start);
        }
    }

    private static IEnumerable<Flag> Silent(Media media, SoundFaults faults, IReadOnlyList<(Track Track, Clip Clip)> use)
    {
        var (track, clip) = use[0];
        var silent = faults.SilentChannels.Where(c => use.Any(u => u.Clip.ChannelMap.Contains(c))).Select(c => c + 1).ToList();
        if (silent.Count > 0)
        {
            yield return new(FlagKinds.SilentChannel, $"{media.ShortName}: {Phrases.Numbered("channel", silent)} {(silent.Count == 1 ? "is" : "are")} silent", $"Of {media.Channels}; ask whether a cable was out, or send it as mono", track.Id, clip.Id, clip.Start);
        }
    }

    // In the medium's own samples: a medium may have a thousand faults and ten thousand clips.
    private IEnumerable<Flag> Inside(Media media, SoundFaults faults, Track track, Clip clip)
    {
        var end = clip.SourceOffset + facts.Session.Rate.Convert(clip.Length, media.Rate);
        foreach (var kind in faults.Faults.Where(f => f.Sample >= clip.SourceOffset && f.Sample < end && clip.ChannelMap.Contains(f.Channel)).GroupBy(f => f.Kind))
        {
            var (first, count, dropout) = (kind.First(), kind.Count(), kind.Key == SoundFaultKind.Dropout);
            yield return new(
                dropout ? FlagKinds.Dropout : FlagKinds.DigitalClick, $"{clip.Name} on {track.Name} has {Phrases.Count(count, dropout ? "dropout" : "click")} inside",
                $"{(count == 1 ? "At" : "The first at")} sample {Digits.Grouped(first.Sample)} of {media.ShortName}{(dropout ? $", {Phrases.Count(first.Length, "sample")} long" : string.Empty)}", track.Id, clip.Id, PlaceOf(first, clip, media));
        }
    }

    private long PlaceOf(SoundFault fault, Clip clip, Media media) => clip.Start + media.Rate.Convert(fault.Sample - clip.SourceOffset, facts.Session.Rate);
}
