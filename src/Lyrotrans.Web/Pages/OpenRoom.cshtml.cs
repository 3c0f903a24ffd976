using System.ComponentModel.DataAnnotations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Doors;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Lyrotrans.Web.Pages;

[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class OpenRoomModel(LyroContext database, UserManager<Account> accounts, SignInManager<Account> door, Settings settings, RoomLog log) : PageModel
{
    [BindProperty]
    [Required]
    [StringLength(120)]
    public string Room { get; set; } = string.Empty;

    [BindProperty]
    [Required]
    [StringLength(120)]
    public string EngineerName { get; set; } = string.Empty;

    [BindProperty]
    [Required]
    [EmailAddress]
    public string Email { get; set; } = string.Empty;

    [BindProperty]
    [Required]
    public string Password { get; set; } = string.Empty;

    public IActionResult OnGet() => settings.AnyoneOpensRooms ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync(CancellationToken stop)
    {
        if (!settings.AnyoneOpensRooms)
        {
            return NotFound();
        }

        if (!ModelState.IsValid)
        {
            return Page();
        }

        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        var room = new Room { Id = Guid.NewGuid(), Name = Room.Trim() };
        database.Rooms.Add(room);
        await database.SaveChangesAsync(stop);
        var account = new Account { Id = Guid.NewGuid(), UserName = Email, Email = Email, Name = EngineerName.Trim() };
        var made = await accounts.CreateAsync(account, Password);
        if (!made.Succeeded)
        {
            foreach (var error in made.Errors)
            {
                ModelState.AddModelError(string.Empty, error.Description);
            }

            return Page();
        }

        database.Memberships.Add(new Membership { RoomId = room.Id, AccountId = account.Id, Since = DateTimeOffset.UtcNow });
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        await door.SignInAsync(account, isPersistent: false);
        await log.NoteAsync(account, RoomEventKind.SignedIn, "opened the room");
        return Redirect("/");
    }
}
