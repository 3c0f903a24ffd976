using System.ComponentModel.DataAnnotations;
using Lyrotrans.Web.Doors;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Lyrotrans.Web.Pages;

/// <summary>Asks for the code of the second factor, after the password.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.StrangersLimit)]
public sealed class SecondFactorModel(Entry entry) : PageModel
{
    [BindProperty]
    [Required]
    [StringLength(40)]
    public string Code { get; set; } = string.Empty;

    public async Task<IActionResult> OnPostAsync(string? returnUrl, bool stay)
    {
        if (!ModelState.IsValid)
        {
            return Page();
        }

        var result = await entry.ByCodeAsync(Code, stay);
        if (result == EntryResult.In)
        {
            return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        }

        ModelState.AddModelError(string.Empty, Entry.Words(result, "The code is wrong, was used already, or the password was typed too long ago."));
        return Page();
    }
}
