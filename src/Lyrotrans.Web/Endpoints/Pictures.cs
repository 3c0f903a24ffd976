using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Pictures;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Endpoints;

/// <summary>The reference picture beside the timeline: stills of it, and the file for browsers that play it.</summary>
public static class Pictures
{
    private const int StillWidth = 192;

    // Each is a program of its own; more at once would keep from listening.
    private static readonly SemaphoreSlim s_atOnce = new(2);

    public static void MapPictures(this WebApplication app)
    {
        app.MapGet("/transfers/{id:guid}/picture/{sha256}/still", StillAsync);
        app.MapGet("/transfers/{id:guid}/picture/file", FileAsync);
    }

    /// <summary>What is seen at one of its frames, counted from 0. The address says which picture by its hash, so that browsers may keep stills: another one has other addresses.</summary>
    private static async Task<IResult> StillAsync(Guid id, string sha256, long frame, HttpContext context, DeskLoader desks, CancellationToken stop)
    {
        if (await PictureAsync(id, context, desks, stop) is not var (picture, file) || picture.Sha256 != sha256)
        {
            return Results.NotFound();
        }

        if (frame < 0 || frame > long.MaxValue >> 20)
        {
            return Results.Problem("Frames of a picture are counted from 0.", statusCode: StatusCodes.Status400BadRequest);
        }

        await s_atOnce.WaitAsync(stop);
        try
        {
            var still = await Task.Run(
                () =>
                {
                    using var stored = StoredPicture.Open(file, picture.FileName);
                    return stored.Source.Still(frame, StillWidth);
                },
                stop);
            context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
            return Results.Bytes(still, "image/jpeg");
        }
        catch (BadInputException problem)
        {
            return Results.Problem(problem.Message, statusCode: StatusCodes.Status422UnprocessableEntity);
        }
        finally
        {
            s_atOnce.Release();
        }
    }

    /// <summary>The file itself, in ranges.</summary>
    private static async Task<IResult> FileAsync(Guid id, HttpContext context, DeskLoader desks, CancellationToken stop) =>
        await PictureAsync(id, context, desks, stop) is var (_, file) ? Results.Stream(file.Open(), "video/mp4", enableRangeProcessing: true) : Results.NotFound();

    private static async Task<(PictureReference Picture, IStoredFile File)?> PictureAsync(Guid id, HttpContext context, DeskLoader desks, CancellationToken stop) =>
        await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is { Session.Picture: { IsThere: true } picture } desk && StoredPicture.Find(picture, new StoredMedia(desk.Media)) is { } file
            ? (picture, file)
            : null;
}
