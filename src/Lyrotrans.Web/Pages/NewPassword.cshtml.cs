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

/// <summary>Sets a new password by a link that was sent.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class NewPasswordModel(UserManager<Account> accounts, SignInBook signIns, RoomLog log, Letters letters, Later later) : PageModel
{
    private const string Over = "The link does not hold any more. Send another.";

    [BindProperty]
    [Required]
    public string Password { get; set; } = string.Empty;

    [TempData]
    public string? Notice { get; set; }

    public async Task<IActionResult> OnPostAsync(Guid account, string? token, CancellationToken stop)
    {
        if (!ModelState.IsValid)
        {
            return Page();
        }

        var person = await accounts.FindByIdAsync(account.ToString());
        var set = person is null || token is null ? IdentityResult.Failed() : await accounts.ResetPasswordAsync(person, token, Password);
        if (!set.Succeeded)
        {
            // Only whoever has a link that holds is told what is wrong with the password.
            foreach (var words in set.Errors.Where(e => e.Code != nameof(IdentityErrorDescriber.InvalidToken)).Select(e => e.Description).DefaultIfEmpty(Over))
            {
                ModelState.AddModelError(string.Empty, words);
            }

            return Page();
        }

        // Whoever read the letter has the address.
        person!.EmailConfirmed = true;
        await accounts.UpdateAsync(person);
        await signIns.EndOthersAsync(person.Id, null, stop);
        await log.NoteAsync(person, RoomEventKind.Changed, "a new password by letter; every sign-in was ended");
        later.Do(_ => letters.ChangedAsync(person, "password"));
        Notice = "The new password holds. Sign in with it.";
        return Redirect("/sign-in");
    }
}
