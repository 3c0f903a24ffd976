using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Lyrotrans.Web.Pages;

/// <summary>Ends a sign-in, here and on the server.</summary>
public sealed class SignOutModel(SignInManager<Account> door, DeskLoader desks, RoomLog log) : PageModel
{
    public IActionResult OnGet() => Redirect("/");

    public async Task<IActionResult> OnPostAsync(CancellationToken stop)
    {
        var engineer = await desks.EngineerAsync(User, stop);
        await door.SignOutAsync();
        await log.NoteAsync(engineer, RoomEventKind.SignedOut);
        return Redirect("/sign-in");
    }
}
