using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>What the tracks of a render play: clips of media, and notes where there are instruments.</summary>
/// <param name="Media">Of clips.</param>
/// <param name="Notes">Instruments; notes are silent without.</param>
/// <param name="Made">What was rendered before and need not be again; nothing where it is null.</param>
public sealed record MixSounds(IMediaOpener Media, INoteSounds? Notes = null, IMadeSounds? Made = null)
{
    internal ITrackSound Of(Session session, Track track) => track.Kind switch
    {
        TrackKind.Notes => Notes?.Play(session, track) ?? SilentSound.Instance,
        TrackKind.Audio => new TrackRender(session, track, Media),
        _ => SilentSound.Instance,
    };
}
