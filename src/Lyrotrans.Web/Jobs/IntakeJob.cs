using Hangfire;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>
/// Takes a batch of uploaded files in: unpacks archives, recognises each file, moves it into the store, measures its sound, and
/// makes one revision of it. Files are moved into the store one by one: after a kill, those moved before it must be dropped again.
/// </summary>
public sealed class IntakeJob(LyroContext database, MediaStore store, DeskLoader desks, ILogger<IntakeJob> log)
{
    private const int Attempts = 5;

    [AutomaticRetry(Attempts = 1)]
    public async Task RunAsync(Guid batchId)
    {
        var batch = await database.Batches.Include(b => b.Uploads).SingleAsync(b => b.Id == batchId);
        if (batch.State is WorkState.Done or WorkState.Stopped or WorkState.Failed)
        {
            return;
        }

        batch.State = WorkState.Working;
        await database.SaveChangesAsync();
        using var pulse = new JobPulse(progress => Beat(batchId, progress));
        try
        {
            var items = await TakeAsync(batch, pulse);
            await JoinAsync(batch, items);
            batch.State = WorkState.Done;
            batch.Fraction = 1;
            batch.Doing = $"{items.Count} {(items.Count == 1 ? "file" : "files")} brought in";
        }
        catch (OperationCanceledException)
        {
            batch.State = WorkState.Stopped;
            batch.Doing = "stopped; nothing was changed";
        }
        catch (Exception problem) when (problem is BadInputException or IOException or RevisionConflictException)
        {
            log.LogWarning(problem, "Intake {Batch} failed", batchId);
            batch.State = WorkState.Failed;
            batch.Error = problem.Message;
        }

        await database.SaveChangesAsync();
    }

    private bool Beat(Guid batchId, WorkProgress progress)
    {
        database.Batches.Where(b => b.Id == batchId).ExecuteUpdate(b => b.SetProperty(x => x.Fraction, progress.Fraction).SetProperty(x => x.Doing, progress.Doing));
        return database.Batches.AsNoTracking().Where(b => b.Id == batchId).Select(b => b.StopAsked).Single();
    }

    private async Task<List<IntakeItem>> TakeAsync(IntakeBatch batch, JobPulse pulse)
    {
        var items = new List<IntakeItem>();
        var uploads = batch.Uploads.OrderBy(u => u.Name, StringComparer.OrdinalIgnoreCase).ToList();
        for (var i = 0; i < uploads.Count; i++)
        {
            pulse.Stop.ThrowIfCancellationRequested();
            pulse.Report(new WorkProgress((double)i / uploads.Count, $"reading {uploads[i].Name}"));
            var path = Path.Combine(store.Incoming, uploads[i].Id.ToString("N"));
            if (File.Exists(path))
            {
                items.AddRange(await TakeFileAsync(path, uploads[i].Name, pulse));
            }
        }

        return items;
    }

    private async Task<IEnumerable<IntakeItem>> TakeFileAsync(string path, string name, JobPulse pulse)
    {
        if (!IsZip(path))
        {
            return [await KeepAsync(path, name, pulse)];
        }

        var folder = Path.Combine(store.Incoming, $"{Guid.NewGuid():N}.unpacked");
        Directory.CreateDirectory(folder);
        try
        {
            var free = PackageFile.FreeSpace(folder) ?? long.MaxValue;
            var files = SafeUnzip.Unpack(path, name, folder, (long)(free * 0.9), pulse.Stop);
            var items = new List<IntakeItem>();
            foreach (var (inner, file) in files)
            {
                pulse.Report(new WorkProgress((double)items.Count / files.Count, $"reading {inner}"));
                items.Add(await KeepAsync(file, inner, pulse));
            }

            File.Delete(path);
            return items;
        }
        catch (BadInputException problem)
        {
            // A refused archive is one bad item; the rest of the batch goes on.
            return [new IntakeItem { Id = Guid.NewGuid().ToString("N"), Name = name, Sha256 = string.Empty, Bytes = new FileInfo(path).Length, Kind = ContentKind.Zip, Error = problem.Message }];
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static bool IsZip(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream) == ContentKind.Zip;
    }

    private async Task<IntakeItem> KeepAsync(string path, string name, JobPulse pulse)
    {
        pulse.Stop.ThrowIfCancellationRequested();
        var sha256 = await store.TakeAsync(path, pulse.Stop);
        var item = Examiner.Examine(store.PathOf(sha256), name, sha256);
        if (item.IsSound && item.Sound!.Frames > 0)
        {
            SoundMeasures.EnsurePeaks(store, sha256, name, pulse.Stop);
        }

        return item;
    }

    private async Task JoinAsync(IntakeBatch batch, List<IntakeItem> items)
    {
        var engineer = await database.Users.Include(u => u.Room).SingleAsync(u => u.Id == batch.ById);
        for (var attempt = 1; ; attempt++)
        {
            var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId);
            var revision = await database.Revisions.AsNoTracking().SingleOrDefaultAsync(r => r.TransferId == transfer.Id && r.Number == transfer.Current);
            var desk = desks.Make(transfer, engineer.Room!, engineer, revision);
            try
            {
                await desks.CommitIntakeAsync(desk, Words(items), Add(desk.Intake, items), CancellationToken.None);
                return;
            }
            catch (RevisionConflictException) when (attempt < Attempts)
            {
                // Somebody edited while files were read; files are added to whatever is in force now.
            }
        }
    }

    /// <summary>Adds items; one of the same name takes the place of the earlier, and keeps its placement.</summary>
    private static IntakeState Add(IntakeState state, List<IntakeItem> items)
    {
        var before = state.Items.ToDictionary(i => i.Name);
        var fresh = items.Select(i => before.TryGetValue(i.Name, out var old) && old.Kind == i.Kind ? i with { Placement = old.Placement } : i).ToList();
        var names = fresh.Select(i => i.Name).ToHashSet();
        return state with { Items = [.. state.Items.Where(i => !names.Contains(i.Name)), .. fresh.DistinctBy(i => i.Name)] };
    }

    private static string Words(List<IntakeItem> items)
    {
        var bad = items.Count(i => i.Error is not null);
        var words = items.Count == 1 ? $"brought in {items[0].Name}" : $"brought in {Digits.Grouped(items.Count)} files";
        return bad == 0 ? words : $"{words}, {bad} could not be read";
    }
}
