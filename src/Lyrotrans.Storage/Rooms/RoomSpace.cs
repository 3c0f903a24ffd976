using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Rooms;

/// <summary>How much of the disk a room takes with what it brought in and what was built.</summary>
public sealed class RoomSpace(LyroContext database, FileStore store)
{
    /// <summary>Bytes of a room's media and packages. A file that several rooms brought in counts for each: what one knows of the other's files must not show here.</summary>
    public async Task<long> UsedAsync(Guid room, CancellationToken stop)
    {
        foreach (var unmeasured in await database.RoomMedia.AsNoTracking().Where(m => m.RoomId == room && m.Bytes == null).ToListAsync(stop))
        {
            // A file that never came takes nothing.
            var bytes = store.Find(unmeasured.Sha256)?.Length ?? 0;
            await database.RoomMedia.Where(m => m.RoomId == room && m.Sha256 == unmeasured.Sha256).ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, bytes), stop);
        }

        return (await database.RoomMedia.Where(m => m.RoomId == room).SumAsync(m => m.Bytes, stop) ?? 0)
            + await database.Builds.Where(b => b.State == WorkState.Done && database.Transfers.Any(t => t.Id == b.TransferId && t.RoomId == room)).SumAsync(b => b.Bytes, stop);
    }
}
