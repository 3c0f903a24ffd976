using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Lyrotrans.Web.Pages;

public sealed class SignOutModel(SignInManager<Account> door) : PageModel
{
    public IActionResult OnGet() => Redirect("/");

    public async Task<IActionResult> OnPostAsync()
    {
        await door.SignOutAsync();
        return Redirect("/sign-in");
    }
}
