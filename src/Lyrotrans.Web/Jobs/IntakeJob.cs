using System.Text.Json;
using Hangfire;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Archiving;
using Lyrotrans.Workflow.Incoming;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>
/// Takes a batch of uploaded files in and makes one revision of it; then measures their sound, and makes another one where that finds something. An intake that was
/// killed is taken up again.
/// </summary>
public sealed class IntakeJob(LyroContext database, IDbContextFactory<LyroContext> contexts, FileStore store, RoomMediaStores rooms, DeskLoader desks, ArrivingFiles files, RoomClaims claims, RevisionLog revisions, ILogger<IntakeJob> log)
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
        if (uploads.Count == 1 && uploads.First() is var (path, upload) && File.Exists(path) && ArchiveZip.IsAt(path))
        {
            return await OpenAsync(batch, path, upload.Name, room, pulse);
        }

        var work = new IntakeWork(rooms.Of(room), store.Incoming, (file, sha256) => KeepHashAsync(uploads[file.Path], sha256, pulse.Stop), pulse, (what, bytes) => claims.TryAsync(database.Batches, id, room, what, bytes, pulse.Stop));
        var items = await work.TakeAsync([.. uploads.Select(u => new ArrivedFile(u.Value.Name, u.Key, u.Value.Sha256))]);
        items = batch.Places is { } places ? PlacedFile.On(items, JsonSerializer.Deserialize<List<PlacedFile>>(places)!) : items;
        await JoinAsync(batch, items, work.Packages, await RepliedAsync(batch, work.Packages, pulse.Stop));
        foreach (var taken in uploads.Keys)
        {
            File.Delete(taken);
        }

        await MeasureAsync(batch, work, pulse);
        return $"{Phrases.Count(items.Count, "file")} brought in";
    }

    // Nothing is kept before all of it was read and held to its sums; files that lie in the store then are found there again.
    private async Task<string> OpenAsync(IntakeBatch batch, string path, string name, Guid room, WorkPulse pulse)
    {
        using var archive = ArchiveZip.Open(path, name);
        var contents = archive.Contents;
        var desk = await DeskAsync(batch);
        if (batch.Attempts > 1 && desk.Revision is { } there && contents.Revisions.Any(r => r.Number == there.Number && r.Session == there.SessionSha && r.Receivers == there.ReceiversSha))
        {
            // It was opened before the process was killed.
            File.Delete(path);
            return $"{contents.Name} opened from its archive";
        }

        if (desk.Revision is not null)
        {
            throw new BadInputException(ArchiveCodes.NotEmpty, name, string.Empty, $"It is the archive of a whole transfer, {contents.Name}, and this transfer has a session already.", "Begin another transfer and bring it in there.");
        }

        if (await claims.TryAsync(database.Batches, batch.Id, room, $"What is in {name}", contents.Bytes, pulse.Stop) is { } full)
        {
            throw new BadInputException(ArchiveCodes.NoRoom, name, string.Empty, full, string.Empty);
        }

        var documents = contents.Documents.ToDictionary(d => d.Sha256, d => archive.Document(d.Sha256));
        Check(contents, documents, name, pulse.Stop);

        var media = rooms.Of(room);
        for (var i = 0; i < contents.Originals.Count; i++)
        {
            var original = contents.Originals[i];
            pulse.Report(new WorkProgress((double)i / contents.Originals.Count, $"taking {Path.GetFileName(original.Path)}"));
            await TakeAsync(archive, original, media, pulse.Stop);
        }

        await revisions.RestoreAsync(
            batch.TransferId,
            [.. contents.Revisions.Select(r => (new Revision { Number = r.Number, Parent = r.Parent, Words = r.Words, Name = r.Name, By = r.By, At = r.At.ToUniversalTime(), IntakeSha = string.Empty, SessionSha = string.Empty, ReceiversSha = string.Empty }, new RevisionDocuments(documents[r.Intake], documents[r.Session], documents[r.Receivers])))],
            contents.Current,
            pulse.Stop);
        File.Delete(path);
        var opened = await DeskAsync(batch);
        SoundMeasures.EnsureAll(opened.Session, opened.Media, pulse.Stop);
        EdgeMeasures.Ensure(opened.Session, opened.Media, pulse.Stop);
        return $"{contents.Name} opened from its archive: {Phrases.Count(contents.Revisions.Count, "revision")}, {Phrases.Count(contents.Originals.Count, "file")}";
    }

    // A revision that cannot be opened would lock everyone out of the transfer.
    private static void Check(TransferArchive contents, Dictionary<string, byte[]> documents, string name, CancellationToken stop)
    {
        foreach (var (sha256, read) in contents.Revisions.SelectMany(r => new (string, Action<byte[]>)[]
        {
            (r.Intake, d => IntakeState.FromJson(d)),
            (r.Session, d => SessionDocumentReader.Read(new MemoryStream(d), name)),
            (r.Receivers, d => ReceiversDocument.Read(d, name)),
        }).DistinctBy(d => d.Item1))
        {
            stop.ThrowIfCancellationRequested();
            try
            {
                read(documents[sha256]);
            }
            catch (System.Text.Json.JsonException problem)
            {
                throw new BadInputException(ArchiveCodes.BadList, name, $"documents/{sha256}.json", $"A document of the archive cannot be read: {problem.Message}", "Fetch the archive again.");
            }
        }
    }

    private async Task TakeAsync(ArchiveZip archive, ArchivedFile original, RoomMedia media, CancellationToken stop)
    {
        var temporary = Path.Combine(store.Incoming, Guid.NewGuid().ToString("N"));
        try
        {
            using (var output = File.Create(temporary))
            {
                archive.CopyTo(original, output, stop);
            }

            await media.TakeAsync(temporary, original.Sha256, stop);
        }
        finally
        {
            File.Delete(temporary);
        }
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
    private Task JoinAsync(IntakeBatch batch, IReadOnlyList<IntakeItem> items, IReadOnlyList<IncomingPackage> packages, IReadOnlyList<IncomingPackage> replies) =>
        CommitAsync(batch, desk => batch.Attempts > 1 && desk.Intake.HasAll(items) ? null : (desk.Intake.With(items, packages).LayingBeside(replies), IntakeWork.Words(items, packages)));

    // What replies to a package that went from here brings tracks for this very session.
    private async Task<IReadOnlyList<IncomingPackage>> RepliedAsync(IntakeBatch batch, IReadOnlyList<IncomingPackage> packages, CancellationToken stop)
    {
        var asked = packages.Select(p => p.ReplyTo).OfType<string>().ToList();
        var sent = asked.Count == 0 ? [] : await database.Builds.AsNoTracking().Where(b => b.TransferId == batch.TransferId && asked.Contains(b.ManifestSha256!)).Select(b => b.ManifestSha256!).ToListAsync(stop);
        return [.. packages.Where(p => p.ReplyTo is { } to && sent.Contains(to))];
    }

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
