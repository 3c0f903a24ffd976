using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;

namespace Lyrotrans.Web;

/// <summary>Where one who is not signed in is sent: a page to the sign-in, and a part of a page not into the part but with its whole page.</summary>
public static class SignInRedirect
{
    /// <summary>Answers a request of one who is not signed in.</summary>
    public static Task OfAsync(RedirectContext<CookieAuthenticationOptions> context)
    {
        if (!context.Request.Headers.ContainsKey("HX-Request"))
        {
            context.Response.Redirect(context.RedirectUri);
            return Task.CompletedTask;
        }

        var page = Uri.TryCreate(context.Request.Headers["HX-Current-URL"], UriKind.Absolute, out var shown) ? shown.PathAndQuery : "/";
        context.Response.StatusCode = StatusCodes.Status401Unauthorized;
        context.Response.Headers["HX-Redirect"] = $"{context.Options.LoginPath}?{context.Options.ReturnUrlParameter}={Uri.EscapeDataString(page)}";
        return Task.CompletedTask;
    }
}
