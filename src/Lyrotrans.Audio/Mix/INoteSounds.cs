using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>Gives notes a sound.</summary>
public interface INoteSounds
{
    /// <summary>The sound of a track's parts that are not muted, in its channels. The caller disposes it.</summary>
    ITrackSound Play(Session session, Track track);
}
