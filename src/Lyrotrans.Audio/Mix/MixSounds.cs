using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>What the tracks of a render play: clips of media, and notes where there are instruments.</summary>
public sealed record MixSounds(IMediaOpener Media, INoteSounds? Notes = null)
{
    internal ITrackSound Of(Session session, Track track) => track.Kind switch
    {
        TrackKind.Notes => Notes?.Play(session, track) ?? SilentSound.Instance,
        TrackKind.Audio => new TrackRender(session, track, Media),
        _ => SilentSound.Instance,
    };
}
