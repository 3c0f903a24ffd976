using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Preparing;

/// <summary>Stereo tracks whose print would say the same twice.</summary>
public static class MonoInStereo
{
    /// <summary>The tracks that go as two channels, printed dry, although every clip has the same sound in both, or within −90 dB.</summary>
    /// <param name="sounds">Measured sound by media id; what is not measured counts as two.</param>
    public static IReadOnlyList<string> Of(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var tracks = session.Tracks.ToDictionary(t => t.Id);
        return [.. preparation.Tracks
            .Where(c => c is { Treatment: Treatment.PrintDry, Channels: DeliveredChannels.AsTrack or DeliveredChannels.Separate } && IsMono(tracks[c.TrackId], sounds))
            .Select(c => c.TrackId)];
    }

    private static bool IsMono(Track track, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var clips = (track.Sounding?.Clips ?? []).Where(c => !c.Muted).ToList();
        return track.Channels == 2 && clips.Count > 0 && clips.TrueForAll(c => c.ChannelMap[0] == c.ChannelMap[1] || IsMono(c, sounds));
    }

    // What was measured is the first two channels of a file.
    private static bool IsMono(Clip clip, IReadOnlyDictionary<string, MediaSound> sounds) =>
        clip.ChannelMap[0] < 2 && clip.ChannelMap[1] < 2 && sounds.TryGetValue(clip.Media, out var sound) && sound.IsMonoInStereo;
}
