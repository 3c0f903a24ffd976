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
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>
/// Takes a batch of uploaded files in: unpacks archives, recognises each file, moves it into the store, measures its sound, and
/// makes one revision of it. An intake that was killed is taken up again: what it had moved is found by its hash, and an archive
/// stays where it is until the revision is made.
/// </summary>
public sealed class IntakeJob(LyroContext database, FileStore store, RoomMediaStores rooms, DeskLoader desks, WorkRunner runner)
{
    private const int Attempts = 5;
    private const double ReadingTakes = 0.5;

    [AutomaticRetry(Attempts = 1)]
    public async Task RunAsync(Guid batchId)
    {
        var batch = await database.Batches.Include(b => b.Uploads).SingleAsync(b => b.Id == batchId);
        await runner.RunAsync(database.Batches, batch, "stopped; nothing was changed", async pulse =>
        {
            var room = await database.Transfers.Where(t => t.Id == batch.TransferId).Select(t => t.RoomId).SingleAsync(pulse.Stop);
            var items = await TakeAsync(batch, rooms.Of(room), pulse);
            await JoinAsync(batch, items);
            foreach (var upload in batch.Uploads)
            {
                File.Delete(IncomingPath(upload));
            }

            batch.Doing = $"{Phrases.Count(items.Count, "file")} brought in";
        });
    }

    private string IncomingPath(Upload upload) => Path.Combine(store.Incoming, upload.Id.ToString("N"));

    private async Task<List<IntakeItem>> TakeAsync(IntakeBatch batch, RoomMedia media, JobPulse pulse)
    {
        var items = new List<IntakeItem>();
        var uploads = batch.Uploads.OrderBy(u => u.Name, StringComparer.OrdinalIgnoreCase).ToList();
        for (var i = 0; i < uploads.Count; i++)
        {
            pulse.Stop.ThrowIfCancellationRequested();
            pulse.Report(new WorkProgress(ReadingTakes * i / uploads.Count, $"reading {uploads[i].Name}"));
            items.AddRange(await TakeUploadAsync(uploads[i], media, pulse));
        }

        return [.. Examiner.Measured(items, media, p => pulse.Report(p with { Fraction = ReadingTakes + ((1 - ReadingTakes) * p.Fraction) }), pulse.Stop)];
    }

    private async Task<IReadOnlyList<IntakeItem>> TakeUploadAsync(Upload upload, RoomMedia media, JobPulse pulse)
    {
        var path = IncomingPath(upload);
        if (!File.Exists(path))
        {
            // Moved before the process was killed; its row says where to.
            return upload.Sha256 is { } moved && media.Has(moved) ? await WithInnerAsync(moved, upload.Name, media, pulse) : [];
        }

        if (IsZip(path))
        {
            return await UnpackAsync(path, upload.Name, media, pulse);
        }

        upload.Sha256 = await FileStore.HashAsync(path, pulse.Stop);
        await database.SaveChangesAsync(pulse.Stop);
        await media.TakeAsync(path, upload.Sha256, pulse.Stop);
        return await WithInnerAsync(upload.Sha256, upload.Name, media, pulse);
    }

    private async Task<IReadOnlyList<IntakeItem>> UnpackAsync(string path, string name, RoomMedia media, JobPulse pulse)
    {
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
                pulse.Stop.ThrowIfCancellationRequested();
                items.AddRange(await WithInnerAsync(await media.TakeAsync(file, pulse.Stop), inner, media, pulse));
            }

            return items;
        }
        catch (BadInputException problem)
        {
            // A refused archive is one bad item; the rest of the batch goes on.
            return [new IntakeItem { Id = Guid.NewGuid().ToString("N"), Name = name, Sha256 = string.Empty, Bytes = new FileInfo(path).Length, Kind = ContentKind.Zip, Error = problem.Finding }];
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

    /// <summary>A file and, where it holds media, those as files of their own.</summary>
    private async Task<IReadOnlyList<IntakeItem>> WithInnerAsync(string sha256, string name, RoomMedia media, JobPulse pulse)
    {
        var item = Examiner.Examine(media.PathOf(sha256), name, sha256);
        if (!item.IsDocument)
        {
            return [item];
        }

        var items = new List<IntakeItem> { item };
        foreach (var (_, inner, path) in EmbeddedMedia.Extract(media.PathOf(sha256), name, media.Scratch, pulse.Stop))
        {
            var taken = await media.TakeAsync(path, pulse.Stop);
            items.Add(Examiner.Examine(media.PathOf(taken), inner, taken));
        }

        return items;
    }

    private async Task JoinAsync(IntakeBatch batch, List<IntakeItem> items)
    {
        var engineer = await database.Users.SingleAsync(u => u.Id == batch.ById);
        for (var attempt = 1; ; attempt++)
        {
            var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == batch.TransferId);
            var desk = await desks.OpenAsync(transfer, engineer, CancellationToken.None);
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

    /// <summary>Adds items; one of the same name takes the place of the earlier, and keeps its placement; the same file keeps its declared rate too.</summary>
    private static IntakeState Add(IntakeState state, List<IntakeItem> items)
    {
        var before = state.Items.ToDictionary(i => i.Name);
        var fresh = items.Select(i => before.TryGetValue(i.Name, out var old) && old.Kind == i.Kind
            ? i with { Placement = old.Placement, DeclaredRate = old.Sha256 == i.Sha256 ? old.DeclaredRate : null } : i).ToList();
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
