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

/// <summary>Sends a link for a new password. The answer is the same whether there is an account, and whether there is one is looked for after it.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class ForgottenModel(Letters letters, Later later, Tries tries) : PageModel
{
    [BindProperty]
    [Required]
    [EmailAddress]
    public string Email { get; set; } = string.Empty;

    public bool Sent { get; private set; }

    public IActionResult OnPost()
    {
        if (!ModelState.IsValid)
        {
            return Page();
        }

        // Each letter counts, so that nobody's box is filled; who waits is not told, nor who is not there.
        if (tries.MayOnce(TryOf.Letter(Email)))
        {
            later.Do(SendAsync);
        }

        Sent = true;
        return Page();
    }

    private async Task SendAsync(IServiceProvider services)
    {
        var accounts = services.GetRequiredService<UserManager<Account>>();
        if (await accounts.FindByEmailAsync(Email) is { } account)
        {
            await letters.ForgottenAsync(account, await accounts.GeneratePasswordResetTokenAsync(account));
        }
    }
}
