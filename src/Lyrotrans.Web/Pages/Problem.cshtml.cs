using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Lyrotrans.Web.Pages;

[AllowAnonymous]
[IgnoreAntiforgeryToken]
public sealed class ProblemModel : PageModel
{
    public string Title { get; private set; } = string.Empty;

    public string Words { get; private set; } = string.Empty;

    public void OnGet(int? code) => Say(code);

    public void OnPost(int? code) => Say(code);

    private void Say(int? code) => (Title, Words) = code switch
    {
        404 => ("Nothing here", "There is no such page, or it belongs to another room."),
        413 => ("Too much at once", "That was more than a form of ours ever sends. Nothing was changed."),
        429 => ("Too many tries", "Wait a minute and try again."),
        400 => ("The page was out of date", "Go back, load it again and repeat what you did. Nothing was lost."),
        _ => ("Something broke", "It was our fault and is in the log. Nothing that was finished is lost; go back and try again."),
    };
}
