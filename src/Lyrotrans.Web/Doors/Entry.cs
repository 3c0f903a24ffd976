using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Web.Doors;

/// <summary>Lets people in by password and code: with the same answer after the same work whether an account is there or not, and only so often.</summary>
public sealed class Entry(UserManager<Account> accounts, SignInManager<Account> door, IPasswordHasher<Account> hasher, Tries tries, UsedCodes used, RoomLog log)
{
    // What the password of somebody who is not there is compared with.
    private static string? s_nobody;

    /// <summary>In words, for a screen.</summary>
    public static string Words(EntryResult result, string wrong) => result == EntryResult.Wait ? "Too many wrong tries. Wait five minutes and try again." : wrong;

    /// <summary>By address and password.</summary>
    public async Task<EntryResult> ByPasswordAsync(string address, string password, bool stay)
    {
        if (!tries.May(TryOf.Password(address)))
        {
            return EntryResult.Wait;
        }

        var account = await accounts.FindByNameAsync(address);
        var result = account is null ? Nobody(password) : await door.PasswordSignInAsync(account, password, stay, lockoutOnFailure: false);
        if (result.Succeeded || result.RequiresTwoFactor)
        {
            tries.Right(TryOf.Password(address));
            return result.Succeeded ? await InAsync(account!) : EntryResult.NeedsCode;
        }

        return Wrong(TryOf.Password(address), account, "a wrong password");
    }

    /// <summary>By a code of the second factor, or a recovery code, after the password.</summary>
    public async Task<EntryResult> ByCodeAsync(string code, bool stay)
    {
        var account = await door.GetTwoFactorAuthenticationUserAsync();
        if (account is null)
        {
            return EntryResult.Wrong;
        }

        if (!tries.May(TryOf.Account(account.Id)))
        {
            return EntryResult.Wait;
        }

        var typed = code.Replace(" ", string.Empty, StringComparison.Ordinal);
        var result = typed.Length == 6
            ? used.TryUse(account.Id, typed) ? await door.TwoFactorAuthenticatorSignInAsync(typed, stay, rememberClient: false) : SignInResult.Failed
            : await door.TwoFactorRecoveryCodeSignInAsync(typed);
        if (!result.Succeeded)
        {
            return Wrong(TryOf.Account(account.Id), account, "a wrong code");
        }

        tries.Right(TryOf.Account(account.Id));
        return await InAsync(account);
    }

    /// <summary>Whether a person who is signed in knows their password, before something that matters is changed.</summary>
    public async Task<EntryResult> KnowsPasswordAsync(Account account, string password)
    {
        if (!tries.May(TryOf.Account(account.Id)))
        {
            return EntryResult.Wait;
        }

        if (!await accounts.CheckPasswordAsync(account, password))
        {
            return Wrong(TryOf.Account(account.Id), account, "a wrong password, signed in");
        }

        tries.Right(TryOf.Account(account.Id));
        return EntryResult.In;
    }

    private EntryResult Wrong(TryOf tried, Account? account, string what)
    {
        var last = tries.Wrong(tried);
        if (account is not null)
        {
            log.NoteLater(account, last ? RoomEventKind.Locked : RoomEventKind.Refused, last ? "too many wrong tries; nothing is tried for five minutes" : what);
        }

        return EntryResult.Wrong;
    }

    private async Task<EntryResult> InAsync(Account account)
    {
        await log.NoteAsync(account, RoomEventKind.SignedIn);
        return EntryResult.In;
    }

    private SignInResult Nobody(string password)
    {
        var nobody = new Account();
        hasher.VerifyHashedPassword(nobody, s_nobody ??= hasher.HashPassword(nobody, Guid.NewGuid().ToString()), password);
        return SignInResult.Failed;
    }
}
