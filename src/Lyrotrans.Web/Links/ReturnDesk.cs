using System.Text.Json;
using Lyrotrans.Core.Naming;
using Lyrotrans.Files;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Uploading;
using Lyrotrans.Workflow.Intake;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>What receivers send back: it lies in a folder of its own, with a limit for each link, and reaches nothing of the room until the sender takes it.</summary>
public sealed class ReturnDesk(LyroContext database, Settings settings, ArrivingFiles arriving, RoomClaims claims, WorkBook work, UploadWriters writers, LinkBook book, TimeProvider clock)
{
    /// <summary>So many files come back by one link.</summary>
    public const int MostFiles = 500;

    // What is left on the disk when all that may come has come.
    private const long KeptFree = 1_000_000_000;

    /// <summary>Where what comes by a link lies until it is taken.</summary>
    public string FolderOf(PackageLink link) => Path.Combine(settings.ReturnFolder, link.Id.ToString("N"));

    /// <summary>Where the bytes of a file lie until it is taken.</summary>
    public string PathOf(ReturnedFile file) => Path.Combine(settings.ReturnFolder, file.LinkId.ToString("N"), file.Id.ToString("N"));

    /// <summary>Bytes that may be written there beside what is kept free.</summary>
    public long Room => (DiskSpace.FreeIn(settings.ReturnFolder) ?? long.MaxValue) - KeptFree;

    /// <summary>Bytes of a file that are here.</summary>
    public long Arrived(ReturnedFile file) => File.Exists(PathOf(file)) ? new FileInfo(PathOf(file)).Length : 0;

    /// <summary>Begins to take a file that is announced.</summary>
    /// <param name="link">That it comes by.</param>
    /// <param name="name">As it is announced.</param>
    /// <param name="length">In bytes.</param>
    /// <param name="check">The comparison that it comes for; null to be kept.</param>
    /// <param name="stop">Stops it before it is announced.</param>
    /// <returns>The file, or why it is not taken, in words.</returns>
    public async Task<(ReturnedFile? File, string? Problem)> BeginAsync(PackageLink link, string name, long length, Guid? check, CancellationToken stop)
    {
        await using var alone = await database.Database.BeginTransactionAsync(stop);
        await database.Database.ExecuteSqlAsync($"""SELECT 1 FROM "Links" WHERE "Id" = {link.Id} FOR UPDATE""", stop);
        if (check is { } id && !await database.ArrivalChecks.AnyAsync(c => c.Id == id && c.LinkId == link.Id && c.State == WorkState.Receiving, stop))
        {
            return (null, "This comparison takes no more files. Begin another one.");
        }

        var here = await Kept(link).ToListAsync(stop);
        var left = link.ReturnBytes - here.Sum(f => f.Length);
        if (here.Count >= MostFiles || length > left)
        {
            return (null, here.Count >= MostFiles ? $"{Digits.Grouped(MostFiles)} files were sent back already. Put the rest into one zip, or ask the sender for another link." : $"{name} has {Digits.Bytes(length)}, and {Digits.Bytes(Math.Max(0, left))} more can be sent back by this link. Ask the sender for another one.");
        }

        if (Room < length)
        {
            return (null, $"There is no room on the server for {name} now. Tell the sender.");
        }

        var file = new ReturnedFile { Id = Guid.NewGuid(), LinkId = link.Id, Name = name.Replace('\\', '/'), Length = length, At = clock.GetUtcNow(), CheckId = check, State = ReturnState.Receiving };
        Directory.CreateDirectory(Path.GetDirectoryName(PathOf(file))!);
        await using (File.Create(PathOf(file)))
        {
        }

        database.ReturnedFiles.Add(file);
        await database.SaveChangesAsync(stop);
        await alone.CommitAsync(stop);
        return (file, null);
    }

    /// <summary>A file of a link that is not finished, or just was.</summary>
    public Task<ReturnedFile?> FindAsync(PackageLink link, Guid id, CancellationToken stop) =>
        database.ReturnedFiles.AsNoTracking().SingleOrDefaultAsync(f => f.Id == id && f.LinkId == link.Id && (f.State == ReturnState.Receiving || f.State == ReturnState.Here), stop);

    /// <summary>Notes that a file is here whole, where it is.</summary>
    public async Task ArrivedAsync(PackageLink link, ReturnedFile file, CancellationToken stop)
    {
        if (Arrived(file) != file.Length)
        {
            return;
        }

        if (await database.ReturnedFiles.Where(f => f.Id == file.Id && f.State == ReturnState.Receiving).ExecuteUpdateAsync(f => f.SetProperty(x => x.State, ReturnState.Here), stop) == 1 && file.CheckId is null)
        {
            await book.NoteAsync(link, LinkEventKind.SentBack, string.Empty, $"{file.Name}, {Digits.Bytes(file.Length)}", stop);
        }
    }

    /// <summary>Files that came back by some links and wait, or are on their way.</summary>
    public Task<List<ReturnedFile>> OfAsync(IReadOnlyList<Guid> links, CancellationToken stop) =>
        database.ReturnedFiles.AsNoTracking().Where(f => links.Contains(f.LinkId) && f.CheckId == null).OrderBy(f => f.At).ToListAsync(stop);

    /// <summary>Throws files of a link away.</summary>
    /// <param name="link">That they came by.</param>
    /// <param name="which">Their ids; none for all that wait.</param>
    /// <param name="person">Who does it; null where the receiver took it back.</param>
    /// <param name="stop">Stops it before a file is gone.</param>
    public async Task RemoveAsync(PackageLink link, IReadOnlyList<Guid> which, Account? person, CancellationToken stop)
    {
        var files = await Kept(link).Where(f => which.Count == 0 ? f.CheckId == null : which.Contains(f.Id)).ToListAsync(stop);
        await RemoveAsync(files, stop);
        if (files.Count > 0 && person is not null)
        {
            await book.NoteAsync(link, LinkEventKind.Answered, person.Name, $"threw away {Phrases.First([.. files.Select(f => f.Name)])}", stop);
        }
    }

    /// <summary>Lets go of files that broke off, and of which nothing came since some time.</summary>
    public async Task SweepAsync(DateTimeOffset since, CancellationToken stop)
    {
        foreach (var file in await database.ReturnedFiles.AsNoTracking().Where(f => f.State == ReturnState.Receiving && f.At < since).ToListAsync(stop))
        {
            if (!File.Exists(PathOf(file)) || File.GetLastWriteTimeUtc(PathOf(file)) < since.UtcDateTime)
            {
                await RemoveAsync([file], stop);
            }
        }

        // What a comparison left that was killed at its end.
        var ended = database.ArrivalChecks.Where(c => c.State == WorkState.Done || c.State == WorkState.Failed || c.State == WorkState.Stopped);
        await RemoveAsync(await database.ReturnedFiles.AsNoTracking().Where(f => f.State != ReturnState.Gone && ended.Any(c => c.Id == f.CheckId)).ToListAsync(stop), stop);

        // A page that was closed before all had come.
        foreach (var check in await database.ArrivalChecks.Where(c => c.State == WorkState.Receiving && c.At < since).ToListAsync(stop))
        {
            await RemoveAsync(check, stop);
            await database.ArrivalChecks.Where(c => c.Id == check.Id && c.State == WorkState.Receiving).ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Stopped), stop);
        }
    }

    /// <summary>Takes what came back by a link into its transfer, as if it had been dropped there.</summary>
    /// <param name="link">That they came by.</param>
    /// <param name="transfer">That they go into.</param>
    /// <param name="places">Where some of them lie there.</param>
    /// <param name="person">Who takes them.</param>
    /// <param name="stop">Stops it before anything is taken.</param>
    /// <returns>Why it does not fit, in words; null where it is read now, or nothing was there.</returns>
    public async Task<string?> TakeAsync(PackageLink link, Transfer transfer, IReadOnlyList<PlacedFile> places, Account person, CancellationToken stop)
    {
        var files = await database.ReturnedFiles.Where(f => f.LinkId == link.Id && f.CheckId == null && f.State == ReturnState.Here).OrderBy(f => f.At).ToListAsync(stop);
        if (files.Count == 0)
        {
            return null;
        }

        // An upload has the name of what came back: a file that was moved before a kill is found at its new place.
        foreach (var file in files.Where(f => File.Exists(PathOf(f))))
        {
            // As if it came now: what lies there long without a row is swept.
            File.SetLastWriteTimeUtc(PathOf(file), clock.GetUtcNow().UtcDateTime);
            File.Move(PathOf(file), arriving.PathOf(file.Id), overwrite: true);
        }

        var problem = await claims.TryAsync(transfer.RoomId, Phrases.First([.. files.Select(f => f.Name)]), files.Sum(f => f.Length), () => KeepAsync(files, transfer, places, person, stop), stop);
        if (problem is null)
        {
            await work.FindAsync(stop);
            await book.NoteAsync(link, LinkEventKind.Answered, person.Name, $"took {Phrases.First([.. files.Select(f => f.Name)])}{(places.Count > 0 ? $"; {Phrases.Count(places.Count, "file")} at the place of its sound" : string.Empty)}", stop);
            return null;
        }

        foreach (var file in files)
        {
            File.Move(arriving.PathOf(file.Id), PathOf(file));
        }

        return problem;
    }

    private async Task KeepAsync(List<ReturnedFile> files, Transfer transfer, IReadOnlyList<PlacedFile> places, Account person, CancellationToken stop)
    {
        // Work that was never heard of is found at once by whoever looks for lost work, also after a kill.
        var batch = new IntakeBatch { Id = Guid.NewGuid(), TransferId = transfer.Id, At = clock.GetUtcNow(), ById = person.Id, State = WorkState.Waiting, Doing = "waiting to be read", Places = places.Count == 0 ? null : JsonSerializer.Serialize(places) };
        database.Batches.Add(batch);
        foreach (var file in files)
        {
            database.Uploads.Add(new Upload { Id = file.Id, BatchId = batch.Id, Name = file.Name, Length = file.Length, At = file.At });
            file.State = ReturnState.Taken;
        }

        await database.SaveChangesAsync(stop);
    }

    /// <summary>Lets go of what came for a comparison.</summary>
    public async Task RemoveAsync(ArrivalCheck check, CancellationToken stop) =>
        await RemoveAsync(await database.ReturnedFiles.AsNoTracking().Where(f => f.CheckId == check.Id && f.State != ReturnState.Gone).ToListAsync(stop), stop);

    private async Task RemoveAsync(List<ReturnedFile> files, CancellationToken stop)
    {
        await writers.EndAsync(files.Select(f => f.Id), stop);
        foreach (var file in files)
        {
            File.Delete(PathOf(file));
            await database.ReturnedFiles.Where(f => f.Id == file.Id).ExecuteUpdateAsync(f => f.SetProperty(x => x.State, ReturnState.Gone), stop);
        }
    }

    private IQueryable<ReturnedFile> Kept(PackageLink link) =>
        database.ReturnedFiles.AsNoTracking().Where(f => f.LinkId == link.Id && (f.State == ReturnState.Receiving || f.State == ReturnState.Here));
}
