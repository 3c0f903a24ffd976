using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>A track of several channels whose sound lies in a file for each.</summary>
internal static class ChannelTracks
{
    /// <summary>The track, muted, and beside it one for each channel, spread from left to right, with all else that it has.</summary>
    /// <param name="track">Which.</param>
    /// <param name="channels">The lane of each channel.</param>
    /// <param name="ids">Ids of tracks that are taken.</param>
    public static IEnumerable<Track> Of(Track track, IReadOnlyList<Lane> channels, TakenNames ids) => channels.Select((lane, c) => track with
    {
        Id = ids.Free(FormattableString.Invariant($"{track.Id}~channel-{c + 1}"), '~'),
        Name = $"{track.Name}{Suffix(c, channels.Count)}",
        Channels = 1,
        Pan = PanOf(c, channels.Count),
        PanAutomation = null,
        Sends = SendsOf(track, c, channels.Count),
        Lanes = [lane],
        SoundingLane = 0,
        Note = string.Empty,
    }).Prepend(track with { State = TrackState.Muted });

    /// <summary>Where a channel of several lies, from −1 to 1.</summary>
    public static double PanOf(int channel, int channels) => channels == 1 ? 0 : -1 + (2.0 * channel / (channels - 1));

    /// <summary>What a track sends, of one channel of several: it stays on its side.</summary>
    public static ValueArray<Send> SendsOf(Track track, int channel, int channels) => track.Sends.Select(s => s with { Pan = Math.Clamp(s.Pan + PanOf(channel, channels), -1, 1) }).ToValueArray();

    private static string Suffix(int channel, int channels) => channels == 2 ? channel == 0 ? ".L" : ".R" : FormattableString.Invariant($".{channel + 1}");
}
