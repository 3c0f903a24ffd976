using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Core.Naming;
using Lyrotrans.Web.Doors;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Uploading;

/// <summary>Takes away what nobody goes on with: uploads that broke off long ago, and arrived bytes that belong to no upload.</summary>
public sealed class Sweeper(LyroContext database, FileStore store, ArrivingFiles files, RoomLog log, TimeProvider clock)
{
    /// <summary>An upload that nothing came of for so long is not waited for any more.</summary>
    public static readonly TimeSpan Broken = TimeSpan.FromDays(7);

    // A document on its way lies there without a row, for a moment.
    private static readonly TimeSpan s_orphaned = TimeSpan.FromDays(1);

    /// <summary>One round.</summary>
    public async Task SweepAsync(CancellationToken stop)
    {
        await BrokenOffAsync(stop);
        await OrphansAsync(stop);
    }

    private async Task BrokenOffAsync(CancellationToken stop)
    {
        var old = clock.GetUtcNow() - Broken;
        var batches = await database.Batches.AsNoTracking().Where(b => b.State == WorkState.Receiving && b.At < old)
            .Select(b => new { b.Id, b.TransferId, Files = database.Uploads.Where(u => u.BatchId == b.Id).ToList() }).ToListAsync(stop);
        foreach (var batch in batches.Where(b => b.Files.TrueForAll(f => f.At < old && files.LastCame(f) < old)))
        {
            await files.ForgetAsync(database.Batches.Where(b => b.Id == batch.Id), stop);
            if (batch.Files.Count > 0)
            {
                var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId, stop);
                await log.NoteAsync(transfer.RoomId, RoomEventKind.Deleted, $"{Phrases.Count(batch.Files.Count, "file")} of {transfer.Name} that broke off more than {Broken.Days} days ago");
            }
        }
    }

    private async Task OrphansAsync(CancellationToken stop)
    {
        foreach (var file in Directory.EnumerateFiles(store.Incoming).Where(f => clock.GetUtcNow() - File.GetLastWriteTimeUtc(f) > s_orphaned))
        {
            if (!Guid.TryParse(Path.GetFileName(file), out var id) || !await database.Uploads.AnyAsync(u => u.Id == id, stop))
            {
                File.Delete(file);
            }
        }
    }
}
