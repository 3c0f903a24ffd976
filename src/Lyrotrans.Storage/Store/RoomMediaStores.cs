using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Store;

/// <summary>Gives the media of a room.</summary>
public sealed class RoomMediaStores(FileStore store, IDbContextFactory<LyroContext> contexts)
{
    public RoomMedia Of(Guid roomId) => new(store, contexts, roomId);
}
