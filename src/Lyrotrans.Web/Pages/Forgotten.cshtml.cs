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

/// <summary>Sends a link for a new password. The answer is the same whether there is an account, and gone before the letter is written.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class ForgottenModel(UserManager<Account> accounts, Letters letters, Tries tries) : PageModel
{
    [BindProperty]
    [Required]
    [EmailAddress]
    public string Email { get; set; } = string.Empty;

    public bool Sent { get; private set; }

    public async Task<IActionResult> OnPostAsync()
    {
        if (!ModelState.IsValid)
        {
            return Page();
        }

        // Each letter counts, so that nobody's box is filled; who waits is not told, nor who is not there.
        var key = $"letter {Email}";
        var may = tries.May(key);
        tries.Wrong(key);
        if (may && await accounts.FindByEmailAsync(Email) is { } account)
        {
            Response.OnCompleted(async () => await letters.ForgottenAsync(account, await accounts.GeneratePasswordResetTokenAsync(account)));
        }

        Sent = true;
        return Page();
    }
}
