using System.Security.Cryptography;
using System.Text.Json;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Web.Doors;

/// <summary>Opens a room with its first account: at once, or by the link of a letter.</summary>
public sealed class RoomOpener(LyroContext database, UserManager<Account> accounts, SignInManager<Account> door, RoomLog log, IDataProtectionProvider protection)
{
    private static readonly TimeSpan s_holds = TimeSpan.FromDays(1);
    private readonly ITimeLimitedDataProtector _links = protection.CreateProtector("room by letter").ToTimeLimitedDataProtector();

    /// <summary>Makes room and account and signs in.</summary>
    /// <param name="room">What it is called.</param>
    /// <param name="account">With a password's hash, or without.</param>
    /// <param name="password">None where the account has its hash.</param>
    /// <param name="stop">Stops it before anything is kept.</param>
    public async Task<IdentityResult> OpenAsync(string room, Account account, string? password, CancellationToken stop)
    {
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        var opened = new Room { Id = Guid.NewGuid(), Name = room };
        database.Rooms.Add(opened);
        await database.SaveChangesAsync(stop);
        var made = password is null ? await accounts.CreateAsync(account) : await accounts.CreateAsync(account, password);
        if (!made.Succeeded)
        {
            return made;
        }

        database.Memberships.Add(new Membership { RoomId = opened.Id, AccountId = account.Id, Since = DateTimeOffset.UtcNow });
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        await door.SignInAsync(account, isPersistent: false);
        await log.NoteAsync(account, RoomEventKind.SignedIn, "opened the room");
        return made;
    }

    /// <summary>What is wrong with an address and a password, whoever has the address: that somebody has it is not said, after the same work.</summary>
    public async Task<IReadOnlyList<string>> ProblemsAsync(Account account, string password)
    {
        var problems = new List<IdentityError>();
        foreach (var validator in accounts.UserValidators)
        {
            problems.AddRange((await validator.ValidateAsync(accounts, account)).Errors);
        }

        foreach (var validator in accounts.PasswordValidators)
        {
            problems.AddRange((await validator.ValidateAsync(accounts, account, password)).Errors);
        }

        return [.. problems.Where(p => p.Code is not (nameof(IdentityErrorDescriber.DuplicateUserName) or nameof(IdentityErrorDescriber.DuplicateEmail))).Select(p => p.Description)];
    }

    /// <summary>What a letter's link carries: it holds a day, and says nothing to whoever reads it.</summary>
    public string TokenOf(string room, Account account, string password) => _links.Protect(
        JsonSerializer.Serialize(new PendingRoom(room, account.Name, account.Email!, accounts.PasswordHasher.HashPassword(account, password))), s_holds);

    /// <summary>Null where the link does not hold.</summary>
    public PendingRoom? OfToken(string token)
    {
        try
        {
            return JsonSerializer.Deserialize<PendingRoom>(_links.Unprotect(token));
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
