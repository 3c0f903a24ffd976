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
        return facts.Session.Media.Where(m => facts.Faults.ContainsKey(m.Id)).SelectMany(m => Media(m, facts.Faults[m.Id], [.. clips[m.Id]]));
    }

    private IEnumerable<Flag> Media(Media media, SoundFaults faults, IReadOnlyList<(Track Track, Clip Clip)> use)
    {
        if (use.Count == 0)
        {
            yield break;
        }

        var (track, clip) = use[0];
        if (faults.OffsetDb > SoundLevels.OffsetMattersDb && media.Length >= media.Rate.SamplesIn(OffsetSeconds).RoundToEven())
        {
            yield return new(FlagKinds.Offset, $"{Leaf(media)} has a DC offset", $"Its samples lie {Decibels.Words(faults.OffsetDb)} dBFS beside 0 on average; a high-pass filter takes it away", track.Id, clip.Id, clip.Start);
        }

        var silent = faults.SilentChannels.Where(c => use.Any(u => u.Clip.ChannelMap.Contains(c))).Select(c => c + 1).ToList();
        if (silent.Count > 0)
        {
            yield return new(FlagKinds.SilentChannel, $"{Leaf(media)}: {Phrases.Numbered("channel", silent)} {(silent.Count == 1 ? "is" : "are")} silent", $"Of {media.Channels}; ask whether a cable was out, or send it as mono", track.Id, clip.Id, clip.Start);
        }

        foreach (var (t, c) in use)
        {
            var inside = faults.Faults.Where(f => c.ChannelMap.Contains(f.Channel)).Select(f => (Fault: f, At: PlaceOf(f, c, media))).Where(f => f.At >= c.Start && f.At < c.End).ToList();
            foreach (var kind in inside.GroupBy(f => f.Fault.Kind))
            {
                var (first, dropout) = (kind.First(), kind.Key == SoundFaultKind.Dropout);
                var thing = dropout ? "dropout" : "click";
                yield return new(
                    dropout ? FlagKinds.Dropout : FlagKinds.DigitalClick, $"{c.Name} on {t.Name} has {Phrases.Count(kind.Count(), thing)} inside",
                    $"{(kind.Count() == 1 ? "At" : "The first at")} sample {Digits.Grouped(first.Fault.Sample)} of {Leaf(media)}{(dropout ? $", {Phrases.Count((int)first.Fault.Length, "sample")} long" : string.Empty)}", t.Id, c.Id, first.At);
            }
        }
    }

    private long PlaceOf(SoundFault fault, Clip clip, Media media) => clip.Start + media.Rate.Convert(fault.Sample - clip.SourceOffset, facts.Session.Rate);

    private static string Leaf(Media media) => media.FileName[(media.FileName.LastIndexOf('/') + 1)..];
}
