using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Web.Endpoints;

/// <summary>The words of the open tus 1.0.0 protocol, for every place that takes files in pieces: what requests say, what answers say, and a piece put at the end of its file.</summary>
public static class Tus
{
    /// <summary>What every request of the protocol says: its version.</summary>
    public const string VersionHeader = "Tus-Resumable";

    private const string Version = "1.0.0";
    private const long LargestFile = 1L << 42;

    // Of the protocol, not of HTTP.
    private const int ChecksumMismatch = 460;

    /// <summary>What can be done here, for whoever asks.</summary>
    public static IResult Options(HttpContext context)
    {
        Mark(context);
        context.Response.Headers["Tus-Version"] = Version;
        context.Response.Headers["Tus-Extension"] = "creation,termination,checksum";
        context.Response.Headers["Tus-Checksum-Algorithm"] = UploadChecksum.Algorithms;
        return Results.NoContent();
    }

    /// <summary>Refuses what does not say the protocol's version; and a page of elsewhere cannot send that header without asking.</summary>
    public static async ValueTask<object?> OfThisVersionAsync(EndpointFilterInvocationContext invocation, EndpointFilterDelegate next)
    {
        if (invocation.HttpContext.Request.Headers[VersionHeader] == Version)
        {
            return await next(invocation);
        }

        Mark(invocation.HttpContext);
        invocation.HttpContext.Response.Headers["Tus-Version"] = Version;
        return Results.StatusCode(StatusCodes.Status412PreconditionFailed);
    }

    /// <summary>Marks an answer as one of the protocol.</summary>
    public static void Mark(HttpContext context) => context.Response.Headers[VersionHeader] = Version;

    /// <summary>The bytes that a creation announces; null where it says nothing that can be.</summary>
    public static long? LengthOf(HttpRequest request) => long.TryParse(request.Headers["Upload-Length"], out var length) && length is >= 0 and <= LargestFile ? length : null;

    /// <summary>Where in its file a piece begins; null where the request is no piece.</summary>
    public static long? OffsetOf(HttpRequest request) => request.ContentType == "application/offset+octet-stream" && long.TryParse(request.Headers["Upload-Offset"], out var offset) ? offset : null;

    /// <summary>The answer to a creation without a length.</summary>
    public static IResult NoLength() => Results.Problem("The upload does not say how long it is.", statusCode: StatusCodes.Status400BadRequest);

    /// <summary>The answer to a name that is refused; null where it is taken.</summary>
    public static IResult? NameProblem(string name) => SafePath.Problem(name) is { } problem
        ? Results.Problem($"The name \"{name}\" is refused: {problem}. Rename the file.", statusCode: StatusCodes.Status400BadRequest)
        : null;

    /// <summary>The answer where another connection writes the same file.</summary>
    public static IResult Taken(string name) => Results.Problem($"Another connection is sending {name}. Try again when it has ended.", statusCode: StatusCodes.Status423Locked);

    /// <summary>How much of a file is here.</summary>
    public static IResult Arrived(HttpContext context, string path, long length)
    {
        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers["Upload-Offset"] = new FileInfo(path).Length.ToString(System.Globalization.CultureInfo.InvariantCulture);
        context.Response.Headers["Upload-Length"] = length.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Results.Ok();
    }

    /// <summary>Puts a piece at the end of its file; what cannot be kept leaves the file as it was.</summary>
    /// <param name="context">The request.</param>
    /// <param name="path">Of the file.</param>
    /// <param name="name">What it is called, for words.</param>
    /// <param name="length">Bytes that were announced.</param>
    /// <param name="offset">Where the piece says that it begins.</param>
    /// <param name="stop">Ends it in the middle; what came so far is kept, unless the piece has a sum.</param>
    public static async Task<IResult> AppendAsync(HttpContext context, string path, string name, long length, long offset, CancellationToken stop)
    {
        if (!UploadChecksum.TryRead(context.Request.Headers["Upload-Checksum"].ToString(), out var checksum))
        {
            return Results.Problem($"The checksum cannot be checked; it is one of {UploadChecksum.Algorithms}.", statusCode: StatusCodes.Status400BadRequest);
        }

        using var summed = checksum;
        try
        {
            // Unbuffered: whoever asks how much is here is told what has arrived.
            await using var file = new FileStream(path, FileMode.Open, FileAccess.Write, FileShare.Read, 0, FileOptions.Asynchronous);
            if (file.Length != offset)
            {
                return Results.StatusCode(StatusCodes.Status409Conflict);
            }

            file.Position = offset;
            return await CopyAsync(context, file, name, length, checksum, stop);
        }
        catch (IOException problem)
        {
            return Results.Problem($"{name} could not be written: {Failure.Of(problem).Text} What arrived so far is kept; make room and go on.", statusCode: StatusCodes.Status507InsufficientStorage);
        }
    }

    /// <summary>What the header of a creation says, "key base64, key base64" (tus 1.0.0, Creation).</summary>
    public static Dictionary<string, string> Metadata(HttpRequest request)
    {
        var result = new Dictionary<string, string>();
        foreach (var pair in request.Headers["Upload-Metadata"].ToString().Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
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

    private static async Task<IResult> CopyAsync(HttpContext context, FileStream file, string name, long length, UploadChecksum? checksum, CancellationToken stop)
    {
        var before = file.Position;
        PieceProblem? problem = new(0, string.Empty);
        try
        {
            problem = await TakeAsync(context.Request, file, name, length, checksum, stop);
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
    private static async Task<PieceProblem?> TakeAsync(HttpRequest request, FileStream file, string name, long length, UploadChecksum? checksum, CancellationToken stop)
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
                return checksum?.Holds() == false ? new PieceProblem(ChecksumMismatch, $"A piece of {name} arrived damaged and was not kept. Send it again.") : null;
            }

            if (file.Position + read > length)
            {
                return new PieceProblem(StatusCodes.Status413PayloadTooLarge, $"{name} sends more than the {length} bytes that it announced.");
            }

            checksum?.Take(buffer.AsSpan(0, read));
            await file.WriteAsync(buffer.AsMemory(0, read), CancellationToken.None);
        }
    }

    private sealed record PieceProblem(int Status, string Words);
}
