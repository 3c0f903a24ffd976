using System.ComponentModel.DataAnnotations;
using Lyrotrans.Web.Doors;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Lyrotrans.Web.Pages;

/// <summary>Lets people in by address and password.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class SignInModel(Entry entry, Settings settings) : PageModel
{
    [BindProperty]
    [Required]
    [EmailAddress]
    public string Email { get; set; } = string.Empty;

    [BindProperty]
    [Required]
    public string Password { get; set; } = string.Empty;

    /// <summary>Whether to stay signed in when the browser is closed.</summary>
    [BindProperty]
    public bool Stay { get; set; }

    /// <summary>What was done before, in words.</summary>
    [TempData]
    public string? Notice { get; set; }

    public bool AnyoneOpensRooms => settings.AnyoneOpensRooms;

    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        if (!ModelState.IsValid)
        {
            return Page();
        }

        var result = await entry.ByPasswordAsync(Email, Password, Stay);
        if (result == EntryResult.NeedsCode)
        {
            return RedirectToPage("/SecondFactor", new { returnUrl, Stay });
        }

        if (result == EntryResult.In)
        {
            return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        }

        ModelState.AddModelError(string.Empty, Entry.Words(result, "E-mail or password is wrong."));
        return Page();
    }
}
