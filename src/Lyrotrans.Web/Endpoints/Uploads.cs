using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Uploading;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>
/// Resumable uploads by the open tus 1.0.0 protocol: core, creation, termination, checksum. Bytes go straight to a file in the store's
/// incoming folder; its length is the offset, so a broken connection loses at most what was under way.
/// </summary>
public static class Uploads
{
    /// <summary>What every request of the protocol says: its version.</summary>
    public const string VersionHeader = "Tus-Resumable";

    private const string Version = "1.0.0";
    private const long LargestFile = 1L << 42;

    // Of the protocol, not of HTTP.
    private const int ChecksumMismatch = 460;

    public static void MapUploads(this WebApplication app)
    {
        app.MapPost("/transfers/{id:guid}/batches", BeginBatchAsync).RequireRateLimiting("upload");
        app.MapPost("/batches/{id:guid}/finish", FinishAsync).RequireRateLimiting("upload");
        app.MapPost("/batches/{id:guid}/stop", StopAsync);
        app.MapPost("/batches/{id:guid}/again", AgainAsync);
        app.MapMethods("/uploads", ["OPTIONS"], (HttpContext context) =>
        {
            Mark(context);
            context.Response.Headers["Tus-Version"] = Version;
            context.Response.Headers["Tus-Extension"] = "creation,termination,checksum";
            context.Response.Headers["Tus-Checksum-Algorithm"] = UploadChecksum.Algorithms;
            return Results.NoContent();
        });
        app.MapPost("/uploads", CreateAsync).RequireRateLimiting("upload").AddEndpointFilter(OfThisVersionAsync);
        app.MapMethods("/uploads/{id:guid}", ["HEAD"], OffsetAsync).AddEndpointFilter(OfThisVersionAsync);
        app.MapMethods("/uploads/{id:guid}", ["PATCH"], AppendAsync).RequireRateLimiting("upload").AddEndpointFilter(OfThisVersionAsync)
            .WithMetadata(new Microsoft.AspNetCore.Mvc.DisableRequestSizeLimitAttribute());
        app.MapDelete("/uploads/{id:guid}", RemoveAsync).AddEndpointFilter(OfThisVersionAsync);
    }

    // The header says the protocol's version; and a page of elsewhere cannot send it without asking.
    private static async ValueTask<object?> OfThisVersionAsync(EndpointFilterInvocationContext invocation, EndpointFilterDelegate next)
    {
        if (invocation.HttpContext.Request.Headers[VersionHeader] == Version)
        {
            return await next(invocation);
        }

        Mark(invocation.HttpContext);
        invocation.HttpContext.Response.Headers["Tus-Version"] = Version;
        return Results.StatusCode(StatusCodes.Status412PreconditionFailed);
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
        Mark(context);
        var metadata = Metadata(context.Request.Headers["Upload-Metadata"].ToString());
        if (!long.TryParse(context.Request.Headers["Upload-Length"], out var length) || length is < 0 or > LargestFile)
        {
            return Results.Problem("The upload does not say how long it is.", statusCode: StatusCodes.Status400BadRequest);
        }

        if (!Guid.TryParse(metadata.GetValueOrDefault("batch"), out var batchId) || await BatchAsync(batchId, context, desks, access, stop) is not { State: WorkState.Receiving } batch)
        {
            return Results.NotFound();
        }

        var name = metadata.GetValueOrDefault("name") ?? string.Empty;
        if (SafePath.Problem(name) is { } problem)
        {
            return Results.Problem($"The name \"{name}\" is refused: {problem}. Rename the file.", statusCode: StatusCodes.Status400BadRequest);
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
        Mark(context);
        if (await FindAsync(id, context, desks, access, database, stop) is not { } upload || !File.Exists(files.PathOf(id)))
        {
            return Results.NotFound();
        }

        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers["Upload-Offset"] = new FileInfo(files.PathOf(id)).Length.ToString(System.Globalization.CultureInfo.InvariantCulture);
        context.Response.Headers["Upload-Length"] = upload.Length.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Results.Ok();
    }

    private static async Task<IResult> AppendAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, UploadWriters writers, CancellationToken stop)
    {
        Mark(context);
        if (context.Request.ContentType != "application/offset+octet-stream" || !long.TryParse(context.Request.Headers["Upload-Offset"], out var offset))
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
            return Results.Problem($"Another connection is sending {upload.Name}. Try again when it has ended.", statusCode: StatusCodes.Status423Locked);
        }

        // Looked at with the upload in hand: whoever finishes it waits until it is let go.
        if (!await database.Uploads.AnyAsync(u => u.Id == id && database.Batches.Any(b => b.Id == u.BatchId && b.State == WorkState.Receiving), stop))
        {
            return Results.Problem($"{upload.Name} is here already, and is taken in as it is.", statusCode: StatusCodes.Status409Conflict);
        }

        if (!UploadChecksum.TryRead(context.Request.Headers["Upload-Checksum"].ToString(), out var checksum))
        {
            return Results.Problem($"The checksum cannot be checked; it is one of {UploadChecksum.Algorithms}.", statusCode: StatusCodes.Status400BadRequest);
        }

        using var summed = checksum;
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(stop, writer.Ended);
        try
        {
            // Unbuffered: whoever asks how much is here is told what has arrived.
            await using var file = new FileStream(files.PathOf(id), FileMode.Open, FileAccess.Write, FileShare.Read, 0, FileOptions.Asynchronous);
            if (file.Length != offset)
            {
                return Results.StatusCode(StatusCodes.Status409Conflict);
            }

            file.Position = offset;
            return await CopyAsync(context, file, upload, checksum, ended.Token);
        }
        catch (IOException problem)
        {
            return Results.Problem($"{upload.Name} could not be written: {Failure.Of(problem).Text} What arrived so far is kept; make room and go on.", statusCode: StatusCodes.Status507InsufficientStorage);
        }
    }

    private static async Task<IResult> CopyAsync(HttpContext context, FileStream file, Upload upload, UploadChecksum? checksum, CancellationToken stop)
    {
        var before = file.Position;
        PieceProblem? problem = new(0, string.Empty);
        try
        {
            problem = await TakeAsync(context.Request, file, upload, checksum, stop);
        }
        finally
        {
            // Of a piece with a sum only the whole is known to be good.
            if (checksum is not null && problem is not null)
            {
                file.SetLength(before);
                file.Position = before;
            }
        }

        if (problem is { Status: > 0 })
        {
            return Results.Problem(problem.Words, statusCode: problem.Status);
        }

        await file.FlushAsync(CancellationToken.None);
        context.Response.Headers["Upload-Offset"] = file.Position.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Results.NoContent();
    }

    // Why a piece is not whole; without a status where the line broke, which the client sees by itself.
    private static async Task<PieceProblem?> TakeAsync(HttpRequest request, FileStream file, Upload upload, UploadChecksum? checksum, CancellationToken stop)
    {
        var buffer = new byte[1 << 17];
        while (true)
        {
            int read;
            try
            {
                read = await request.Body.ReadAsync(buffer, stop);
            }
            catch (Exception broken) when (broken is OperationCanceledException or IOException)
            {
                return new PieceProblem(0, string.Empty);
            }

            if (read == 0)
            {
                return checksum?.Holds() == false ? new PieceProblem(ChecksumMismatch, $"A piece of {upload.Name} arrived damaged and was not kept. Send it again.") : null;
            }

            if (file.Position + read > upload.Length)
            {
                return new PieceProblem(StatusCodes.Status413PayloadTooLarge, $"{upload.Name} sends more than the {upload.Length} bytes that it announced.");
            }

            checksum?.Take(buffer.AsSpan(0, read));
            await file.WriteAsync(buffer.AsMemory(0, read), CancellationToken.None);
        }
    }

    private static async Task<IResult> RemoveAsync(
        Guid id, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, ArrivingFiles files, UploadWriters writers, CancellationToken stop)
    {
        Mark(context);
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

    private static void Mark(HttpContext context) => context.Response.Headers[VersionHeader] = Version;

    // "key base64, key base64": tus 1.0.0, Creation.
    private static Dictionary<string, string> Metadata(string header)
    {
        var result = new Dictionary<string, string>();
        foreach (var pair in header.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var parts = pair.Split(' ');
            var buffer = new byte[parts.Length > 1 ? parts[1].Length : 0];
            if (parts.Length == 2 && Convert.TryFromBase64String(parts[1], buffer, out var count))
            {
                result[parts[0]] = System.Text.Encoding.UTF8.GetString(buffer, 0, count);
            }
        }

        return result;
    }

    private sealed record PieceProblem(int Status, string Words);
}
