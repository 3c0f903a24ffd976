using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Uploading;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>
/// Resumable uploads by the open tus 1.0.0 protocol: core, creation, termination, checksum. Bytes go straight to a file in the store's
/// incoming folder; its length is the offset, so a broken connection loses at most what was under way.
/// </summary>
public static class Uploads
{
    public static void MapUploads(this WebApplication app)
    {
        app.MapPost("/transfers/{id:guid}/batches", BeginBatchAsync).RequireRateLimiting("upload");
        app.MapPost("/batches/{id:guid}/finish", FinishAsync).RequireRateLimiting("upload");
        app.MapPost("/batches/{id:guid}/stop", StopAsync);
        app.MapPost("/batches/{id:guid}/again", AgainAsync);
        app.MapMethods("/uploads", ["OPTIONS"], Tus.Options);
        app.MapPost("/uploads", CreateAsync).RequireRateLimiting("upload").AddEndpointFilter(Tus.OfThisVersionAsync);
        app.MapMethods("/uploads/{id:guid}", ["HEAD"], OffsetAsync).AddEndpointFilter(Tus.OfThisVersionAsync);
        app.MapMethods("/uploads/{id:guid}", ["PATCH"], AppendAsync).RequireRateLimiting("upload").AddEndpointFilter(Tus.OfThisVersionAsync)
            .WithMetadata(new Microsoft.AspNetCore.Mvc.DisableRequestSizeLimitAttribute());
        app.MapDelete("/uploads/{id:guid}", RemoveAsync).AddEndpointFilter(Tus.OfThisVersionAsync);
    }

    private static async Task<IResult> BeginBatchAsync(Guid id, HttpContext context, DeskLoader desks, LyroContext database, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk)
        {
            return Results.NotFound();
        }

        // Files that broke off earlier wait in a batch that is still open; dropped again, they go on there.
        var batch = await database.Batches.FirstOrDefaultAsync(b => b.TransferId == id && b.ById == desk.Engineer.Id && b.State == WorkState.Receiving, stop);
        if (batch is null)
        {
            batch = NewBatch(id, desk.Engineer.Id);
            database.Batches.Add(batch);
            await database.SaveChangesAsync(stop);
        }

        return Results.Json(new { id = batch.Id });
    }

    private static IntakeBatch NewBatch(Guid transfer, Guid engineer) =>
        new() { Id = Guid.NewGuid(), TransferId = transfer, At = DateTimeOffset.UtcNow, ById = engineer, State = WorkState.Receiving };

    private static async Task<IResult> CreateAsync(HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, RoomClaims claims, CancellationToken stop)
    {
        Tus.Mark(context);
        var metadata = Tus.Metadata(context.Request);
        if (Tus.LengthOf(context.Request) is not { } length)
        {
            return Tus.NoLength();
        }

        if (!Guid.TryParse(metadata.GetValueOrDefault("batch"), out var batchId) || await BatchAsync(batchId, context, desks, access, stop) is not { State: WorkState.Receiving } batch)
        {
            return Results.NotFound();
        }

        var name = metadata.GetValueOrDefault("name") ?? string.Empty;
        if (Tus.NameProblem(name) is { } refused)
        {
            return refused;
        }

        var upload = new Upload { Id = Guid.NewGuid(), BatchId = batchId, Name = name.Replace('\\', '/'), Length = length, At = DateTimeOffset.UtcNow };
        var room = await database.Transfers.Where(t => t.Id == batch.TransferId).Select(t => t.RoomId).SingleAsync(stop);
        if (await claims.TryAsync(room, name, length, () => KeepAsync(upload, database, files, stop), stop) is { } full)
        {
            return Results.Problem(full, statusCode: StatusCodes.Status507InsufficientStorage);
        }

        context.Response.Headers.Location = $"/uploads/{upload.Id}";
        return Results.StatusCode(StatusCodes.Status201Created);
    }

    private static async Task KeepAsync(Upload upload, LyroContext database, ArrivingFiles files, CancellationToken stop)
    {
        await using (File.Create(files.PathOf(upload.Id)))
        {
        }

        database.Uploads.Add(upload);
        await database.SaveChangesAsync(stop);
    }

    private static async Task<IResult> OffsetAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, CancellationToken stop)
    {
        Tus.Mark(context);
        if (await FindAsync(id, context, desks, access, database, stop) is not { } upload || !File.Exists(files.PathOf(id)))
        {
            return Results.NotFound();
        }

        return Tus.Arrived(context, files.PathOf(id), upload.Length);
    }

    private static async Task<IResult> AppendAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, UploadWriters writers, CancellationToken stop)
    {
        Tus.Mark(context);
        if (Tus.OffsetOf(context.Request) is not { } offset)
        {
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        }

        if (await FindAsync(id, context, desks, access, database, stop) is not { } upload || !File.Exists(files.PathOf(id)))
        {
            return Results.NotFound();
        }

        using var writer = writers.TryTake(id);
        if (writer is null)
        {
            return Tus.Taken(upload.Name);
        }

        // Looked at with the upload in hand: whoever finishes it waits until it is let go.
        if (!await database.Uploads.AnyAsync(u => u.Id == id && database.Batches.Any(b => b.Id == u.BatchId && b.State == WorkState.Receiving), stop))
        {
            return Results.Problem($"{upload.Name} is here already, and is taken in as it is.", statusCode: StatusCodes.Status409Conflict);
        }

        using var ended = CancellationTokenSource.CreateLinkedTokenSource(stop, writer.Ended);
        return await Tus.AppendAsync(context, files.PathOf(id), upload.Name, upload.Length, offset, ended.Token);
    }

    private static async Task<IResult> RemoveAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, UploadWriters writers, CancellationToken stop)
    {
        Tus.Mark(context);
        if (await FindAsync(id, context, desks, access, database, stop) is not { } upload)
        {
            return Results.NotFound();
        }

        await writers.EndAsync([id], stop);
        File.Delete(files.PathOf(id));
        database.Uploads.Remove(upload);
        await database.SaveChangesAsync(stop);
        return Results.NoContent();
    }

    private static async Task<IResult> FinishAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, WorkBook work, UploadWriters writers, CancellationToken stop)
    {
        if (await BatchAsync(id, context, desks, access, stop) is not { } batch)
        {
            return Results.NotFound();
        }

        if (batch.State == WorkState.Receiving)
        {
            var uploads = await database.Uploads.Where(u => u.BatchId == id).ToListAsync(stop);

            var broken = uploads.Where(u => files.Arrived(u) != u.Length).ToList();
            if (broken.Count == uploads.Count)
            {
                var words = broken.Count == 0 ? "Nothing was sent." : $"{broken[0].Name} is not all here: {files.Arrived(broken[0])} of {broken[0].Length} bytes. Drop it again to go on.";
                return Results.Problem(words, statusCode: StatusCodes.Status409Conflict);
            }

            // A connection that was forgotten must not hold what is read now; one that still sends goes on.
            await writers.EndAsync(uploads.Except(broken).Select(u => u.Id), stop);

            // What is here is taken in; what broke off waits in a batch of its own until it is dropped again.
            if (broken.Count > 0)
            {
                var later = NewBatch(batch.TransferId, batch.ById);
                database.Batches.Add(later);
                broken.ForEach(u => u.BatchId = later.Id);
                await database.SaveChangesAsync(stop);
            }

            await work.BeginAsync(batch, stop);
        }

        return Results.NoContent();
    }

    private static async Task<IResult> StopAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ForgottenBatches forgotten, CancellationToken stop)
    {
        if (await BatchAsync(id, context, desks, access, stop) is not { } batch)
        {
            return Results.NotFound();
        }

        await forgotten.ForgetAsync(database.Batches.Where(b => b.Id == id), stop);
        if (batch.State == WorkState.Failed)
        {
            ShowAnew(context);
        }

        return Results.NoContent();
    }

    private static async Task<IResult> AgainAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, WorkBook work, CancellationToken stop)
    {
        if (await BatchAsync(id, context, desks, access, stop) is null)
        {
            return Results.NotFound();
        }

        await work.AgainAsync(id, stop);
        ShowAnew(context);
        return Results.NoContent();
    }

    // What failed is asked for by nobody any more: the page would not see it go on.
    private static void ShowAnew(HttpContext context) => context.Response.Headers["HX-Refresh"] = "true";

    private static Task<IntakeBatch?> BatchAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, CancellationToken stop) =>
        access.Batches(desks.IdOf(context.User)).SingleOrDefaultAsync(b => b.Id == id, stop);

    private static async Task<Upload?> FindAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, CancellationToken stop)
    {
        var upload = await database.Uploads.SingleOrDefaultAsync(u => u.Id == id, stop);
        return upload is not null && await BatchAsync(upload.BatchId, context, desks, access, stop) is not null ? upload : null;
    }
}
