using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>Gives the sound of tracks that were rendered before.</summary>
public interface IMadeSounds
{
    /// <summary>A track's sound after its effects, at its session samples. The caller disposes it.</summary>
    /// <param name="track">Whose sound.</param>
    /// <param name="sounding">Ids of the tracks that play.</param>
    /// <returns>Null where it is to be rendered.</returns>
    ITrackSound? Made(Track track, IReadOnlySet<string> sounding);
}
