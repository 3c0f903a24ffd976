using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Render;

/// <summary>Opens a session's media for reading.</summary>
public interface IMediaOpener
{
    /// <summary>The sound at the rate that the session says it has, or null where the file is missing. The caller disposes it.</summary>
    ISampleSource? Open(Media media);
}
