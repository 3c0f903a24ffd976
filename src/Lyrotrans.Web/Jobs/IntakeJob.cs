using Hangfire;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Takes a batch of uploaded files in and makes one revision of it. An intake that was killed is taken up again.</summary>
public sealed class IntakeJob(LyroContext database, IDbContextFactory<LyroContext> contexts, FileStore store, RoomMediaStores rooms, DeskLoader desks, ArrivingFiles files, RoomClaims claims, ILogger<IntakeJob> log)
{
    private const int Attempts = 5;

    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid batchId) =>
        WorkRunner.RunAsync(new WorkRow<IntakeBatch>(contexts, batchId, "stopped; nothing was changed", log), pulse => TakeAsync(batchId, pulse));

    private async Task<string> TakeAsync(Guid id, WorkPulse pulse)
    {
        var batch = await database.Batches.Include(b => b.Uploads).SingleAsync(b => b.Id == id, pulse.Stop);
        var room = await database.Transfers.Where(t => t.Id == batch.TransferId).Select(t => t.RoomId).SingleAsync(pulse.Stop);
        var uploads = batch.Uploads.ToDictionary(u => files.PathOf(u.Id));
        var work = new IntakeWork(rooms.Of(room), store.Incoming, (file, sha256) => KeepHashAsync(uploads[file.Path], sha256, pulse.Stop), pulse, (what, bytes) => claims.TryAsync(database.Batches, id, room, what, bytes, pulse.Stop));
        var items = await work.TakeAsync([.. uploads.Select(u => new ArrivedFile(u.Value.Name, u.Key, u.Value.Sha256))]);
        await JoinAsync(batch, items);
        foreach (var path in uploads.Keys)
        {
            File.Delete(path);
        }

        return $"{Phrases.Count(items.Count, "file")} brought in";
    }

    private async Task KeepHashAsync(Upload upload, string sha256, CancellationToken stop)
    {
        upload.Sha256 = sha256;
        await database.SaveChangesAsync(stop);
    }

    private async Task JoinAsync(IntakeBatch batch, IReadOnlyList<IntakeItem> items)
    {
        var engineer = await database.Users.SingleAsync(u => u.Id == batch.ById);
        for (var attempt = 1; ; attempt++)
        {
            var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId);
            var desk = await desks.OpenAsync(transfer, engineer, CancellationToken.None);
            if (batch.Attempts > 1 && desk.Intake.HasAll(items))
            {
                // Its revision was made before it died.
                return;
            }

            try
            {
                await desks.CommitIntakeAsync(desk, IntakeWork.Words(items), desk.Intake.With(items), CancellationToken.None);
                return;
            }
            catch (RevisionConflictException) when (attempt < Attempts)
            {
                // Somebody edited while files were read; files are added to whatever is in force now.
            }
        }
    }
}
