using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Lyrotrans.Web.Pages;

/// <summary>A page of whoever is signed in, outside any transfer.</summary>
public abstract class PersonPage(DeskLoader desks, RoomAccess access) : PageModel
{
    protected DeskLoader Desks { get; } = desks;

    protected RoomAccess Access { get; } = access;

    /// <summary>Who it is.</summary>
    public Account Engineer { get; private set; } = null!;

    /// <summary>Their rooms; a new transfer is the first one's.</summary>
    public IReadOnlyList<Room> Rooms { get; private set; } = [];

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        Engineer = await Desks.EngineerAsync(User, HttpContext.RequestAborted);
        Rooms = await Access.RoomsAsync(Engineer.Id, HttpContext.RequestAborted);
        await next();
    }
}
