using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Single;
using Lyrotrans.Core.Time;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Keys;
using Lyrotrans.Web.Listening;
using Lyrotrans.Workflow.Delivering;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Endpoints;

/// <summary>One thing of a session, made and proved while it is waited for: a clip, a part, or what a track has in a range.</summary>
public static class OneThings
{
    private static readonly Dictionary<string, OneForm> s_forms = Enum.GetValues<OneForm>().ToDictionary(f => f.ToString().ToLowerInvariant());

    public static void MapOneThings(this WebApplication app) => app.MapGet("/transfers/{id:guid}/one", MadeAsync);

    private static async Task<IResult> MadeAsync(
        Guid id, string track, string? clip, string? part, long? start, long? end, [Microsoft.AspNetCore.Mvc.FromQuery(Name = "as")] string form, HttpContext context, DeskLoader desks, RoomKeys keys, ListeningSeats seats, RoomLog log, CancellationToken stop)
    {
        if (!s_forms.TryGetValue(form, out var asked) || await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { IsEmpty: false } desk)
        {
            return Results.NotFound();
        }

        var range = start is { } first && end is { } last ? new SampleRange(first, last) : (SampleRange?)null;
        var (plan, problem) = OneThingPlan.Of(new OneThing(track, clip, part, range, asked), desk.Session, desk.Preparation, desks.Sounds(desk));
        if (plan is null)
        {
            return Refused(problem!);
        }

        using var seat = seats.TryTake(desk.Engineer.Id);
        if (seat is null)
        {
            return Refused("Too much is made at once. Try again in a moment.", StatusCodes.Status429TooManyRequests);
        }

        try
        {
            var maker = new PackageMaker(DateTimeOffset.UtcNow, await keys.OfAsync(desk.Room.Id, stop));
            var known = await keys.KnownAsync(desk.Room.Id, stop);
            var made = await Task.Run(() => OneThingFile.Make(plan, new StoredMedia(desk.Media), maker, known, stop), stop);
            context.Response.RegisterForDispose(made);
            await log.NoteAsync(desk.Room.Id, desk.Engineer, RoomEventKind.Fetched, $"{made.Name} of {desk.Transfer.Name}");
            return Results.Stream(made.Open(), "application/octet-stream", made.Name);
        }
        catch (Exception hindered) when (hindered is BadInputException or IOException)
        {
            return Refused(hindered.Message);
        }
    }

    private static IResult Refused(string words, int status = StatusCodes.Status400BadRequest) => Results.Text(words, "text/plain", statusCode: status);
}
