using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media that lie in a room's store.</summary>
public sealed class StoredMedia(IMediaStore store) : IMediaFiles
{
    public string Scratch => store.Scratch;

    public IStoredFile? FileOf(Media media) => store.Holds(media) ? store.FileOf(media.Sha256!) : null;
}
