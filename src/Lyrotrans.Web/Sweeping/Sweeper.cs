using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Core.Naming;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Uploading;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Sweeping;

/// <summary>
/// Takes away what nobody goes on with: uploads that broke off and batches that failed long ago, arrived bytes that no batch will read any more, and what
/// builds and killed processes left.
/// </summary>
public sealed class Sweeper(LyroContext database, Settings settings, FileStore store, PackageStore packages, ArrivingFiles files, ForgottenBatches forgotten, ReturnDesk returns, RoomLog log, TimeProvider clock)
{
    /// <summary>A batch that nobody went on with for so long is not waited for any more.</summary>
    public static readonly TimeSpan Broken = TimeSpan.FromDays(7);

    // A document on its way lies there without a row, for a moment.
    private static readonly TimeSpan s_orphaned = TimeSpan.FromDays(1);

    /// <summary>One round.</summary>
    public async Task SweepAsync(CancellationToken stop)
    {
        await LeftAsync(stop);
        await UnreadAsync(stop);
        await HalfBuiltAsync(stop);
        await returns.SweepAsync(clock.GetUtcNow() - Broken, stop);
        Housekeeping.RemoveLeftovers(settings);
    }

    private async Task LeftAsync(CancellationToken stop)
    {
        var old = clock.GetUtcNow() - Broken;
        var batches = await database.Batches.AsNoTracking().Where(b => (b.State == WorkState.Receiving || b.State == WorkState.Failed) && (b.SeenAt ?? b.At) < old)
            .Select(b => new { b.Id, b.TransferId, b.State, Files = database.Uploads.Where(u => u.BatchId == b.Id).ToList() }).ToListAsync(stop);
        foreach (var batch in batches.Where(b => b.Files.TrueForAll(f => f.At < old && files.LastCame(f) < old)))
        {
            await forgotten.ForgetAsync(database.Batches.Where(b => b.Id == batch.Id), stop);
            if (batch.Files.Count > 0)
            {
                var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId, stop);
                var what = batch.State == WorkState.Failed ? "failed" : "broke off";
                await log.NoteAsync(transfer.RoomId, RoomEventKind.Deleted, $"{Phrases.Count(batch.Files.Count, "file")} of {transfer.Name} that {what} more than {Broken.Days} days ago");
            }
        }
    }

    private async Task UnreadAsync(CancellationToken stop)
    {
        foreach (var file in Directory.EnumerateFiles(store.Incoming))
        {
            var state = Guid.TryParse(Path.GetFileName(file), out var id)
                ? await database.Batches.Where(b => database.Uploads.Any(u => u.Id == id && u.BatchId == b.Id)).Select(b => (WorkState?)b.State).SingleOrDefaultAsync(stop)
                : null;
            if (state is WorkState.Done or WorkState.Stopped || (state is null && clock.GetUtcNow() - File.GetLastWriteTimeUtc(file) > s_orphaned))
            {
                File.Delete(file);
            }
        }
    }

    // A process that was killed between package and row left one that no row offers.
    private async Task HalfBuiltAsync(CancellationToken stop)
    {
        foreach (var build in await database.Builds.Where(b => b.State == WorkState.Failed || b.State == WorkState.Stopped).Select(b => b.Id).ToListAsync(stop))
        {
            packages.Remove(build);
        }
    }
}
