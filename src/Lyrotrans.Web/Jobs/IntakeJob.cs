using Hangfire;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>
/// Takes a batch of uploaded files in and makes one revision of it; then measures their sound, and makes another one where that finds something. An intake that was
/// killed is taken up again.
/// </summary>
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

        await MeasureAsync(batch, work, pulse);
        return $"{Phrases.Count(items.Count, "file")} brought in";
    }

    // All of the transfer that was not measured: what an intake that was killed left, too.
    private async Task MeasureAsync(IntakeBatch batch, IntakeWork work, WorkPulse pulse)
    {
        try
        {
            var before = await DeskAsync(batch);
            var found = work.Measured([.. before.Intake.Items.Where(i => i.IsSound)]).ToDictionary(i => i.Id);
            var heard = new RoleEars(before.Session, before.Intake.Items, new StoredMedia(before.Media), pulse.Stop).Hear();
            await CommitAsync(batch, desk =>
            {
                var changed = desk.Intake.Items.Where(i => found.TryGetValue(i.Id, out var f) && (f.Error != i.Error || f.Findings.Count != i.Findings.Count)).ToList();
                var after = desk.Intake with { Items = [.. desk.Intake.Items.Select(i => found.TryGetValue(i.Id, out var f) ? i with { Error = f.Error, Findings = f.Findings, SampleSum = f.SampleSum, Heard = heard.GetValueOrDefault(i.Id) } : i)] };
                var again = desks.Joined(desk with { Intake = after, Revision = null }).Session != desks.Joined(desk).Session;
                var alike = after.Items.Zip(desk.Intake.Items).Count(i => i.First.Heard != i.Second.Heard);
                return changed.Count > 0 ? (after, $"measured: {Phrases.Count(changed.Count, "file")} {(changed.Count == 1 ? "is" : "are")} damaged")
                    : again ? (after, "measured: some sound is a medium's, and no track of its own")
                    : alike > 0 ? (after, $"measured: {Phrases.Count(alike, "file")} {(alike == 1 ? "sounds" : "sound")} like what is here")
                    : null;
            });
        }
        catch (OperationCanceledException) when (pulse.Stop.IsCancellationRequested)
        {
            // The files are in; what was not measured is when somebody needs it.
        }
    }

    private async Task KeepHashAsync(Upload upload, string sha256, CancellationToken stop)
    {
        upload.Sha256 = sha256;
        await database.SaveChangesAsync(stop);
    }

    // Of a batch that was taken up again the revision may have been made before it died.
    private Task JoinAsync(IntakeBatch batch, IReadOnlyList<IntakeItem> items) =>
        CommitAsync(batch, desk => batch.Attempts > 1 && desk.Intake.HasAll(items) ? null : (desk.Intake.With(items), IntakeWork.Words(items)));

    private async Task<Desk> DeskAsync(IntakeBatch batch)
    {
        var engineer = await database.Users.SingleAsync(u => u.Id == batch.ById);
        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId);
        return await desks.OpenAsync(transfer, engineer, CancellationToken.None);
    }

    private async Task CommitAsync(IntakeBatch batch, Func<Desk, (IntakeState After, string Words)?> change)
    {
        for (var attempt = 1; ; attempt++)
        {
            var desk = await DeskAsync(batch);
            if (change(desk) is not { } changed)
            {
                return;
            }

            try
            {
                await desks.CommitIntakeAsync(desk, changed.Words, changed.After, CancellationToken.None);
                return;
            }
            catch (RevisionConflictException) when (attempt < Attempts)
            {
                // Somebody edited while files were read; files are added to whatever is in force now.
            }
        }
    }
}
