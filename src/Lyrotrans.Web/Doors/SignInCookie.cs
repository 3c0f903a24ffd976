using System.Security.Claims;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Text;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Doors;

/// <summary>
/// The cookie of a sign-in names a row of the database, and holds as long as that row: every way of signing in makes one, signing out and a changed password
/// delete it, and limits are looked at with every request.
/// </summary>
public sealed class SignInCookie(LyroContext database, TimeProvider clock) : CookieAuthenticationEvents
{
    /// <summary>What a page sends with a question that it asks by itself; such a question keeps nobody signed in.</summary>
    public const string AsksItselfHeader = "X-Asks-Itself";

    private const string Claim = "sign-in";
    private static readonly TimeSpan s_minute = TimeSpan.FromMinutes(1);

    /// <summary>The row of whoever asks; null where nobody is signed in.</summary>
    public static Guid? IdOf(ClaimsPrincipal user) => Guid.TryParse(user.FindFirstValue(Claim), out var id) ? id : null;

    /// <inheritdoc/>
    public override async Task SigningIn(CookieSigningInContext context)
    {
        var now = clock.GetUtcNow();
        var signIn = new SignIn
        {
            Id = Guid.NewGuid(),
            AccountId = Guid.Parse(context.Principal!.FindFirstValue(ClaimTypes.NameIdentifier)!),
            BeganAt = now,
            SeenAt = now,
            Stays = context.Properties.IsPersistent,
            Browser = Shown.Line(context.Request.Headers.UserAgent.ToString(), 200),
            Address = context.HttpContext.Connection.RemoteIpAddress?.ToString() ?? string.Empty,
        };
        database.SignIns.Add(signIn);
        await database.SaveChangesAsync(context.HttpContext.RequestAborted);
        ((ClaimsIdentity)context.Principal!.Identity!).AddClaim(new Claim(Claim, signIn.Id.ToString()));
    }

    /// <inheritdoc/>
    public override async Task ValidatePrincipal(CookieValidatePrincipalContext context)
    {
        var now = clock.GetUtcNow();
        var id = IdOf(context.Principal!);
        var signIn = id is null ? null : await database.SignIns.AsNoTracking().SingleOrDefaultAsync(s => s.Id == id, context.HttpContext.RequestAborted);
        if (signIn is null || !SignInLimits.Holds(signIn, now))
        {
            context.RejectPrincipal();
            await context.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
        }
        else if (now - signIn.SeenAt >= s_minute && !context.Request.Headers.ContainsKey(AsksItselfHeader))
        {
            await database.SignIns.Where(s => s.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.SeenAt, now), context.HttpContext.RequestAborted);
        }
    }

    /// <inheritdoc/>
    public override async Task SigningOut(CookieSigningOutContext context)
    {
        if (IdOf(context.HttpContext.User) is { } id)
        {
            await database.SignIns.Where(s => s.Id == id).ExecuteDeleteAsync(CancellationToken.None);
        }
    }

    /// <summary>A page is sent to the sign-in; a part of a page not into the part but with its whole page.</summary>
    public override Task RedirectToLogin(RedirectContext<CookieAuthenticationOptions> context)
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
