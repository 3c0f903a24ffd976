using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>The rows of a preparation with the channels of their kind of files, where nothing else was chosen of them.</summary>
public static class ChannelsByKind
{
    /// <summary>A preparation whose rows say the channels that their files get.</summary>
    public static Preparation Of(Session session, Preparation preparation)
    {
        if (preparation.Kinds[FileKind.Tracks].Channels is null && preparation.Kinds[FileKind.Returns].Channels is null)
        {
            return preparation;
        }

        var tracks = session.Tracks.ToDictionary(t => t.Id);
        return preparation with { Tracks = [.. preparation.Tracks.Select(c => c.Channels == DeliveredChannels.AsTrack && preparation.Kinds[FileKinds.Of(tracks[c.TrackId])].Channels is { } channels ? c with { Channels = channels } : c)] };
    }
}
