using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Uploading;

namespace Lyrotrans.Web.Endpoints;

/// <summary>What a receiver sends back by a link, by the open tus 1.0.0 protocol.</summary>
public static class Returns
{
    public static void MapReturns(this WebApplication app)
    {
        var returns = app.MapGroup("/r/{token}/returns").AllowAnonymous().RequireRateLimiting(DoorServices.LinksLimit).AddEndpointFilter(Tus.OfThisVersionAsync);
        returns.MapPost("", BeginAsync);
        returns.MapMethods("/{id:guid}", ["HEAD"], OffsetAsync);
        returns.MapMethods("/{id:guid}", ["PATCH"], AppendAsync).WithMetadata(new Microsoft.AspNetCore.Mvc.DisableRequestSizeLimitAttribute());
        returns.MapDelete("/{id:guid}", RemoveAsync);
    }

    private static async Task<IResult> BeginAsync(string token, HttpContext context, LinkBook book, WrongLinks wrong, ReturnDesk returns, CancellationToken stop)
    {
        Tus.Mark(context);
        var (link, refused) = await Received.OpenAsync(token, context, book, wrong, stop);
        if (link is null)
        {
            return refused!;
        }

        if (Tus.LengthOf(context.Request) is not { } length)
        {
            return Tus.NoLength();
        }

        var said = Tus.Metadata(context.Request);
        var name = said.GetValueOrDefault("name") ?? string.Empty;
        if (Tus.NameProblem(name) is { } bad)
        {
            return bad;
        }

        // An empty text is no comparison, and one that is none is refused.
        Guid? check = said.GetValueOrDefault("check") is { Length: > 0 } id ? Guid.TryParse(id, out var of) ? of : Guid.Empty : null;
        var (file, problem) = await returns.BeginAsync(link.Link, name, length, check, stop);
        if (file is null)
        {
            return Results.Problem(problem, statusCode: StatusCodes.Status413PayloadTooLarge);
        }

        await returns.ArrivedAsync(link.Link, file, stop);
        context.Response.Headers.Location = link.At($"returns/{file.Id}");
        return Results.StatusCode(StatusCodes.Status201Created);
    }

    private static async Task<IResult> OffsetAsync(string token, Guid id, HttpContext context, LinkBook book, WrongLinks wrong, ReturnDesk returns, CancellationToken stop)
    {
        Tus.Mark(context);
        var (link, refused) = await Received.OpenAsync(token, context, book, wrong, stop);
        return link is null ? refused!
            : await returns.FindAsync(link.Link, id, stop) is not { } file || !File.Exists(returns.PathOf(file)) ? Results.NotFound()
            : Tus.Arrived(context, returns.PathOf(file), file.Length);
    }

    private static async Task<IResult> AppendAsync(string token, Guid id, HttpContext context, LinkBook book, WrongLinks wrong, ReturnDesk returns, UploadWriters writers, CancellationToken stop)
    {
        Tus.Mark(context);
        if (Tus.OffsetOf(context.Request) is not { } offset)
        {
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        }

        var (link, refused) = await Received.OpenAsync(token, context, book, wrong, stop);
        if (link is null || await returns.FindAsync(link.Link, id, stop) is not { } file || !File.Exists(returns.PathOf(file)))
        {
            return refused ?? Results.NotFound();
        }

        using var writer = writers.TryTake(id);
        if (writer is null)
        {
            return Tus.Taken(file.Name);
        }

        // Looked at again with the file in hand: the sender may have taken it or thrown it away.
        if (await returns.FindAsync(link.Link, id, stop) is not { State: Storage.Model.ReturnState.Receiving })
        {
            return Results.StatusCode(StatusCodes.Status409Conflict);
        }

        using var ended = CancellationTokenSource.CreateLinkedTokenSource(stop, writer.Ended);
        var answer = await Tus.AppendAsync(context, returns.PathOf(file), file.Name, file.Length, offset, ended.Token);
        await returns.ArrivedAsync(link.Link, file, CancellationToken.None);
        return answer;
    }

    private static async Task<IResult> RemoveAsync(string token, Guid id, HttpContext context, LinkBook book, WrongLinks wrong, ReturnDesk returns, CancellationToken stop)
    {
        Tus.Mark(context);
        var (link, refused) = await Received.OpenAsync(token, context, book, wrong, stop);
        if (link is null || await returns.FindAsync(link.Link, id, stop) is not { State: Storage.Model.ReturnState.Receiving })
        {
            return refused ?? Results.NotFound();
        }

        await returns.RemoveAsync(link.Link, [id], null, stop);
        return Results.NoContent();
    }
}
