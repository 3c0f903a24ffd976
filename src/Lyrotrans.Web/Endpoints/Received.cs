using Lyrotrans.Core.Following;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Listening;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.Net.Http.Headers;

namespace Lyrotrans.Web.Endpoints;

/// <summary>What a link opens, beside its page: the package as one zip or file by file, from any place on, its sums, its sheet, and each sound to listen to and to look at.</summary>
public static class Received
{
    // A sheet says for itself that it asks for nothing and runs nothing; it may not even count as a page of this site.
    private const string SheetPolicy = "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'; base-uri 'none'; form-action 'none'";
    private static readonly string[] s_fetching = [HttpMethods.Get, HttpMethods.Head];

    public static void MapReceived(this WebApplication app)
    {
        var received = app.MapGroup("/r/{token}").AllowAnonymous().RequireRateLimiting(DoorServices.LinksLimit);
        received.MapMethods("/package", s_fetching, PackageAsync);
        received.MapMethods("/files/{number:int}", s_fetching, FileAsync);
        received.MapGet("/files/{number:int}/listen", ListenAsync);
        received.MapGet("/files/{number:int}/outline", OutlineAsync);
        received.MapGet("/sums.json", SumsAsync);
        received.MapGet("/sheet", SheetAsync);
    }

    private static async Task<IResult> PackageAsync(string token, HttpContext context, LinkBook book, WrongLinks wrong, CancellationToken stop) =>
        await OpenAsync(token, context, book, wrong, stop) is var (link, refused) && link is null ? refused!
            : await FetchAsync(link, link.Package.Zip.Open, "application/zip", link.Build.FileName!, link.Build.ManifestSha256!, "the package", context, book, stop);

    private static async Task<IResult> FileAsync(string token, int number, HttpContext context, LinkBook book, WrongLinks wrong, CancellationToken stop)
    {
        var (link, refused) = await OpenAsync(token, context, book, wrong, stop);
        return link is null ? refused!
            : Numbered(link, number) is not { } file ? Results.NotFound()
            : await FetchAsync(link, file.File.Open, "application/octet-stream", Path.GetFileName(file.Path), file.Sha256, file.Path, context, book, stop);
    }

    // What goes on from the middle of a file was claimed and noted when it began, and is claimed again only where that was long ago.
    private static async Task<IResult> FetchAsync(OpenedLink link, Func<Stream> open, string type, string name, string sha256, string what, HttpContext context, LinkBook book, CancellationToken stop)
    {
        if (HttpMethods.IsGet(context.Request.Method))
        {
            var answer = await book.ClaimAsync(link.Link, stop);
            if (answer is LinkAnswer.Gone or LinkAnswer.UsedUp)
            {
                return answer == LinkAnswer.Gone ? Results.NotFound() : Results.Text("This package was fetched as often as its sender allows. Ask the sender for another link.", "text/plain", statusCode: StatusCodes.Status403Forbidden);
            }

            if (answer == LinkAnswer.Begun || context.Request.GetTypedHeaders().Range?.Ranges.All(r => r.From is > 0) != true)
            {
                await book.NoteAsync(link.Link, LinkEventKind.Fetched, string.Empty, what, stop);
            }
        }

        return Results.Stream(open(), type, name, link.Build.FinishedAt, new EntityTagHeaderValue($"\"{sha256}\""), enableRangeProcessing: true);
    }

    private static async Task<IResult> ListenAsync(string token, int number, long? from, HttpContext context, LinkBook book, WrongLinks wrong, ListeningSeats seats, CancellationToken stop)
    {
        var (link, refused) = await OpenAsync(token, context, book, wrong, stop);
        return link is null ? refused!
            : Numbered(link, number) is not { } file || !ReceivedFiles.IsSound(file) ? Results.NotFound()
            : Streamed.Made(context, seats.TryTake(link.Link.Id), output =>
            {
                using var sound = SoundFile.Open(file.File, file.Path);
                var (source, at) = (sound.Source, Math.Clamp(from ?? 0, 0, sound.Source.Length));
                ListeningStream.Write(output, source.Rate, source.Channels, source.Length - at, (begin, count, into) => source.Read(at + begin, count, into), stop);
            }, stop);
    }

    private static async Task<IResult> OutlineAsync(string token, int number, HttpContext context, LinkBook book, WrongLinks wrong, Outlines outlines, ListeningSeats seats, CancellationToken stop)
    {
        var (link, refused) = await OpenAsync(token, context, book, wrong, stop);
        if (link is null || Numbered(link, number) is not { } file || !ReceivedFiles.IsSound(file))
        {
            return link is null ? refused! : Results.NotFound();
        }

        return await Drawn(context, () => outlines.OfAsync(link.Package, file, () => seats.TryTake(link.Link.Id), stop));
    }

    /// <summary>An outline as an answer that a browser may keep.</summary>
    internal static async Task<IResult> Drawn(HttpContext context, Func<Task<IStoredFile?>> outline)
    {
        if (await outline() is not { } file)
        {
            return Results.StatusCode(StatusCodes.Status429TooManyRequests);
        }

        context.Response.Headers.CacheControl = "private, max-age=86400";
        return Results.Stream(file.Open(), "application/octet-stream");
    }

    private static async Task<IResult> SumsAsync(string token, HttpContext context, LinkBook book, WrongLinks wrong, CancellationToken stop) =>
        await OpenAsync(token, context, book, wrong, stop) is var (link, refused) && link is null ? refused!
            : Results.Json(link.Package.Files.Select(f => new { path = f.Path, bytes = f.Bytes, sha256 = f.Sha256, before = false })
                .Concat((link.Package.FollowUp?.Files ?? []).Where(f => f.State == FollowedState.AsBefore).Select(f => new { path = f.Path, bytes = f.Bytes, sha256 = f.Sha256, before = true })));

    private static async Task<IResult> SheetAsync(string token, HttpContext context, LinkBook book, WrongLinks wrong, CancellationToken stop)
    {
        var (link, refused) = await OpenAsync(token, context, book, wrong, stop);
        if (link?.Package.Sheet is not { } sheet)
        {
            return refused ?? Results.NotFound();
        }

        context.Response.Headers.ContentSecurityPolicy = SheetPolicy;
        return Results.Stream(sheet.File.Open(), "text/html; charset=utf-8");
    }

    /// <summary>What a link opens to whoever asks now, or the answer to one that opens nothing: the same for every reason.</summary>
    internal static async Task<(OpenedLink? Link, IResult? Refused)> OpenAsync(string token, HttpContext context, LinkBook book, WrongLinks wrong, CancellationToken stop) =>
        await book.FindAsync(token, stop) is { } link ? link.IsOpen ? (link, null) : (null, Results.NotFound())
            : (null, wrong.MayOnce(context) ? Results.NotFound() : Results.StatusCode(StatusCodes.Status429TooManyRequests));

    private static KeptFile? Numbered(OpenedLink link, int number) => number >= 0 && number < link.Package.Files.Count ? link.Package.Files[number] : null;
}
