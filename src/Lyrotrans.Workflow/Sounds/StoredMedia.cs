using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media that lie in a room's store.</summary>
public sealed class StoredMedia(IMediaStore store) : IMediaFiles
{
    public string Scratch => store.Scratch;

    public string? PathOf(Media media) => store.Holds(media) ? store.PathOf(media.Sha256!) : null;
}
