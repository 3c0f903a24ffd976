using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Doors;
using Microsoft.AspNetCore.DataProtection;

namespace Lyrotrans.Web.Links;

/// <summary>Who comes by a link, without an account: what their browser keeps of it.</summary>
public sealed class LinkVisitor(IHttpContextAccessor current, IDataProtectionProvider protection, TimeProvider clock)
{
    private const string Visit = "lyro-visit";
    private const int Bytes = 16;
    private static readonly TimeSpan s_opened = TimeSpan.FromHours(12);
    private readonly ITimeLimitedDataProtector _protector = protection.CreateProtector("links").ToTimeLimitedDataProtector();

    private HttpContext Context => current.HttpContext ?? throw new InvalidOperationException("Nobody asks.");

    /// <summary>Where they ask from.</summary>
    public string Address => Context.Connection.RemoteIpAddress?.ToString() ?? string.Empty;

    /// <summary>Gives the browser something to keep, so that what it fetches by and by is known to be one claim.</summary>
    public void Welcome()
    {
        if (VisitOf() is null)
        {
            Context.Response.Cookies.Append(Visit, Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(Bytes)), Cookie(LinkClaim.Holds * 2));
        }
    }

    /// <summary>Who claims at a link, as a sum that tells nobody who: by what the browser keeps, or by where they ask from.</summary>
    public string ClaimantAt(PackageLink link) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{link.Id} {VisitOf() ?? DoorServices.Neighbourhood(Context.Connection.RemoteIpAddress)}")));

    /// <summary>Whether nothing has to be typed at a link, or this browser's person did.</summary>
    public bool Opened(PackageLink link)
    {
        if (link.PassphraseHash is null)
        {
            return true;
        }

        try
        {
            return Context.Request.Cookies[NameFor(link)] is { } kept && _protector.Unprotect(kept) == Sense(link);
        }
        catch (CryptographicException)
        {
            return false;
        }
    }

    /// <summary>Notes that the passphrase was right.</summary>
    public void Open(PackageLink link) => Context.Response.Cookies.Append(NameFor(link), _protector.Protect(Sense(link), clock.GetUtcNow() + s_opened), Cookie(s_opened));

    private string? VisitOf() => Context.Request.Cookies[Visit] is { } kept && Base64Url.IsValid(kept, out var length) && length == Bytes ? kept : null;

    private static string NameFor(PackageLink link) => $"lyro-open-{link.Id:N}";

    // Another passphrase opens nothing that the first one did.
    private static string Sense(PackageLink link) => $"{link.Id} {link.PassphraseHash}";

    private static CookieOptions Cookie(TimeSpan age) => new() { Path = "/r", HttpOnly = true, SameSite = SameSiteMode.Lax, MaxAge = age, IsEssential = true };
}
