using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Workflow.Archiving;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Zips that are put together while they are sent: the archive of a whole transfer, and the originals of some tracks.</summary>
public static class Archives
{
    public static void MapArchives(this WebApplication app)
    {
        app.MapGet("/transfers/{id:guid}/archive", ArchiveAsync);
        app.MapGet("/transfers/{id:guid}/originals", OriginalsAsync);
    }

    private static TransferArchive Of(Desk desk, List<Revision> rows, Dictionary<string, Func<byte[]>> reads)
    {
        var revisions = rows.Select(r => new ArchivedRevision(r.Number, r.Parent, r.Words, r.Name, r.By, r.At, r.IntakeSha, r.SessionSha, r.ReceiversSha)).ToList();
        return TransferArchive.Of(desk.Transfer.Name, desk.Transfer.Receiver, desk.Transfer.Current, revisions, s => reads[s](), s => desk.Media.Has(s) ? desk.Media.FileOf(s).Length : null);
    }

    // By their hashes, each read when it is needed.
    private static Dictionary<string, Func<byte[]>> Reads(List<Revision> rows, DocumentStore documents)
    {
        var reads = new Dictionary<string, Func<byte[]>>();
        foreach (var row in rows)
        {
            reads.TryAdd(row.IntakeSha, () => documents.Intake(row));
            reads.TryAdd(row.SessionSha, () => documents.Session(row));
            reads.TryAdd(row.ReceiversSha, () => documents.Receivers(row));
        }

        return reads;
    }

    private static async Task<IResult> ArchiveAsync(Guid id, HttpContext context, DeskLoader desks, LyroContext database, DocumentStore documents, RoomLog log, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, null, stop) is not { Revision: not null } desk)
        {
            return Results.NotFound();
        }

        var rows = await database.Revisions.AsNoTracking().Where(r => r.TransferId == desk.Id).OrderBy(r => r.Number).ToListAsync(stop);
        var reads = Reads(rows, documents);
        var archive = Of(desk, rows, reads);
        await log.NoteAsync(desk.Room.Id, desk.Engineer, RoomEventKind.Fetched, $"the archive of {desk.Transfer.Name}");
        return Sent(context, $"{LegalName.From(desk.Transfer.Name)}_archive.zip", output => ArchiveZip.Write(output, archive, s => reads.TryGetValue(s, out var document) ? new MemoryStream(document()) : desk.Media.FileOf(s).Open(), DateTimeOffset.UtcNow, stop), stop);
    }

    /// <summary>The media of some tracks as they came, unused takes included, with their names or by the names that the tracks are delivered under.</summary>
    private static async Task<IResult> OriginalsAsync(Guid id, string[]? track, bool? delivered, HttpContext context, DeskLoader desks, RoomLog log, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { Revision: not null } desk)
        {
            return Results.NotFound();
        }

        var files = OriginalFiles.Of(desk.Session, desk.Preparation, (track ?? []).ToHashSet(), delivered == true, m => desk.Media.Holds(m) ? desk.Media.FileOf(m.Sha256!).Length : null);
        if (files.Count == 0)
        {
            return Results.Problem("No file of these tracks is here.", statusCode: StatusCodes.Status400BadRequest);
        }

        await log.NoteAsync(desk.Room.Id, desk.Engineer, RoomEventKind.Fetched, $"{Phrases.Count(files.Count, "original")} of {desk.Transfer.Name}");
        return Sent(context, $"{LegalName.From(desk.Session.Name)}_originals.zip", output => ArchiveZip.WriteFiles(output, files, s => desk.Media.FileOf(s).Open(), DateTimeOffset.UtcNow, stop), stop);
    }

    private static IResult Sent(HttpContext context, string name, Action<Stream> write, CancellationToken stop)
    {
        // The zip is written as it goes; nothing else waits on this thread.
        context.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        return Results.Stream(output => Task.Run(() => write(output), stop), "application/zip", name);
    }
}
