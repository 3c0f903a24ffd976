using System.ComponentModel.DataAnnotations;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Mail;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Lyrotrans.Web.Pages;

/// <summary>Opens a room. Where letters can be sent, by the link of one, so that the page says the same whether an address has an account; else at once.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class OpenRoomModel(RoomOpener opener, Settings settings, Letters letters, Later later, Tries tries) : PageModel
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

    /// <summary>Whether a letter is on its way.</summary>
    public bool Sent { get; private set; }

    /// <summary>What the followed link carries.</summary>
    public string? Link { get; private set; }

    /// <summary>The room of the followed link; null without one that holds.</summary>
    public PendingRoom? Pending { get; private set; }

    public IActionResult OnGet(string? link) => settings.AnyoneOpensRooms ? WithLink(link) : NotFound();

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

        var account = new Account { Id = Guid.NewGuid(), UserName = Email, Email = Email, Name = EngineerName.Trim() };
        return settings.MailServer is null
            ? After(await opener.OpenAsync(Room.Trim(), account, Password, stop))
            : await ByLetterAsync(account);
    }

    /// <summary>Opens the room of a letter's link.</summary>
    public async Task<IActionResult> OnPostFollowAsync(string? link, CancellationToken stop)
    {
        if (!settings.AnyoneOpensRooms)
        {
            return NotFound();
        }

        ModelState.Clear();
        var page = WithLink(link);
        if (Pending is not { } pending)
        {
            return page;
        }

        // Whoever read the letter has the address.
        var account = new Account { Id = Guid.NewGuid(), UserName = pending.Email, Email = pending.Email, Name = pending.Name, PasswordHash = pending.PasswordHash, EmailConfirmed = true };
        return After(await opener.OpenAsync(pending.Room, account, null, stop));
    }

    private PageResult WithLink(string? link)
    {
        (Link, Pending) = (link, link is null ? null : opener.OfToken(link));
        if (link is not null && Pending is null)
        {
            ModelState.AddModelError(string.Empty, "The link does not hold any more. Ask for another.");
        }

        return Page();
    }

    // The same answer, after the same work, whether the address has an account; the letter says more.
    private async Task<IActionResult> ByLetterAsync(Account account)
    {
        foreach (var problem in await opener.ProblemsAsync(account, Password))
        {
            ModelState.AddModelError(string.Empty, problem);
        }

        if (!ModelState.IsValid)
        {
            return Page();
        }

        var token = opener.TokenOf(Room.Trim(), account, Password);
        if (tries.MayOnce(TryOf.Letter(Email)))
        {
            later.Do(async services => await (await services.GetRequiredService<UserManager<Account>>().FindByEmailAsync(Email) is { } there
                ? letters.HasAccountAsync(there)
                : letters.OpenAsync(Email, token)));
        }

        Sent = true;
        return Page();
    }

    private IActionResult After(IdentityResult made)
    {
        foreach (var error in made.Errors)
        {
            ModelState.AddModelError(string.Empty, error.Description);
        }

        return made.Succeeded ? Redirect("/") : Page();
    }
}
