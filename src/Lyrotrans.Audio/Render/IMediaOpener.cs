using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Render;

/// <summary>Opens a session's media for reading at the session's rate.</summary>
public interface IMediaOpener
{
    /// <summary>The sound at the session's rate, or null where the file is missing. The caller disposes it.</summary>
    ISampleSource? Open(Media media);
}
