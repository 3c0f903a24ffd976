using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace Lyrotrans.Web.Doors;

/// <summary>Accounts in the database, with the secret of the second factor and its recovery codes readable only by the application's keys.</summary>
public sealed class AccountStore(LyroContext database, IDataProtectionProvider protection, IdentityErrorDescriber words)
    : UserStore<Account, IdentityRole<Guid>, LyroContext, Guid>(database, words)
{
    private readonly IDataProtector _protector = protection.CreateProtector("second factor");

    /// <inheritdoc/>
    public override Task SetTokenAsync(Account user, string loginProvider, string name, string? value, CancellationToken cancellationToken) =>
        base.SetTokenAsync(user, loginProvider, name, value is null ? null : _protector.Protect(value), cancellationToken);

    /// <inheritdoc/>
    public override async Task<string?> GetTokenAsync(Account user, string loginProvider, string name, CancellationToken cancellationToken) =>
        await base.GetTokenAsync(user, loginProvider, name, cancellationToken) is { } kept ? _protector.Unprotect(kept) : null;
}
