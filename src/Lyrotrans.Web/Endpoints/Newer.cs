using System.Text.Encodings.Web;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Tells a page that stands open that another revision is in force, before anybody types into it.</summary>
public static class Newer
{
    /// <summary>Maps it.</summary>
    public static void MapNewer(this WebApplication app) => app.MapGet("/transfers/{id:guid}/newer", NewerAsync);

    private static async Task<IResult> NewerAsync(Guid id, int from, HttpContext context, DeskLoader desks, RoomAccess access, LyroContext database, HtmlEncoder encoder, CancellationToken stop)
    {
        var found = await access.Transfers(desks.IdOf(context.User)).Where(t => t.Id == id)
            .Select(t => new { Current = database.Revisions.FirstOrDefault(r => r.TransferId == t.Id && r.Number == t.Current) }).SingleOrDefaultAsync(stop);
        return found is null
            ? Results.NotFound()
            : Results.Content(found.Current is { } current && current.Number != from ? Banner(current, encoder) : string.Empty, "text/html; charset=utf-8");
    }

    private static string Banner(Storage.Model.Revision current, HtmlEncoder encoder) =>
        $"<span class=\"flag\"><span class=\"pennant\"></span>{encoder.Encode($"{current.By} made revision {current.Number}: {current.Words}.")}</span> <a href=\"\">Load it</a>";
}
