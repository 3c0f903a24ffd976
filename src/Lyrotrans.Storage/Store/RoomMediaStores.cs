using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Store;

/// <summary>Gives the media of a room.</summary>
public sealed class RoomMediaStores(FileStore store, IDbContextFactory<LyroContext> contexts)
{
    /// <summary>For one request or one piece of work.</summary>
    public RoomMedia Of(Guid roomId) => new(store, contexts, roomId);
}
