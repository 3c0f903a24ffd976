using System.Security.Cryptography;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Signing;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Keys;

/// <summary>The keys that rooms sign their packages with. The secret half lies in the database under data protection, and leaves with the key.</summary>
public sealed class RoomKeys(LyroContext database, IDataProtectionProvider protection, ILogger<RoomKeys> log)
{
    private readonly IDataProtector _protector = protection.CreateProtector("signing key");

    /// <summary>The key in use; made where there is none yet, or where it cannot be opened any more.</summary>
    public async Task<SigningKey> OfAsync(Guid room, CancellationToken stop)
    {
        var key = await CurrentAsync(room, stop) ?? await MakeAsync(room, stop);
        try
        {
            return new SigningKey(Convert.FromBase64String(_protector.Unprotect(key.Secret)));
        }
        catch (CryptographicException problem)
        {
            log.LogWarning(problem, "The signing key of room {Room} cannot be opened any more; another takes its place", room);
            await RetireAsync(room, stop);
            return new SigningKey(Convert.FromBase64String(_protector.Unprotect((await MakeAsync(room, stop)).Secret)));
        }
    }

    /// <summary>All keys of a room, the one in use first.</summary>
    public async Task<IReadOnlyList<RoomKey>> AllAsync(Guid room, CancellationToken stop) =>
        await database.RoomKeys.AsNoTracking().Where(k => k.RoomId == room).OrderBy(k => k.Retired != null).ThenByDescending(k => k.Since).ToListAsync(stop);

    /// <summary>A room's keys by what they are called, for a proof.</summary>
    public async Task<IReadOnlyDictionary<PublicKey, string>> KnownAsync(Guid room, CancellationToken stop) =>
        (await AllAsync(room, stop)).ToDictionary(k => new PublicKey(k.Public), k => k.Retired is null ? "this room's key" : "an earlier key of this room");

    /// <summary>Puts a new key in the place of the one in use, whose secret half is forgotten.</summary>
    public async Task<PublicKey> RotateAsync(Guid room, CancellationToken stop)
    {
        await RetireAsync(room, stop);
        return new PublicKey((await MakeAsync(room, stop)).Public);
    }

    private Task<RoomKey?> CurrentAsync(Guid room, CancellationToken stop) => database.RoomKeys.AsNoTracking().SingleOrDefaultAsync(k => k.RoomId == room && k.Retired == null, stop);

    private Task<int> RetireAsync(Guid room, CancellationToken stop) => database.RoomKeys.Where(k => k.RoomId == room && k.Retired == null)
        .ExecuteUpdateAsync(k => k.SetProperty(x => x.Retired, DateTimeOffset.UtcNow).SetProperty(x => x.Secret, string.Empty), stop);

    // Two builds of a new room may ask at once: the first one's stays.
    private async Task<RoomKey> MakeAsync(Guid room, CancellationToken stop)
    {
        var key = SigningKey.New();
        var (secret, since) = (_protector.Protect(Convert.ToBase64String(key.Secret)), DateTimeOffset.UtcNow);
        await database.Database.ExecuteSqlAsync(
            $"""INSERT INTO "RoomKeys" ("Id", "RoomId", "Public", "Secret", "Since") VALUES ({Guid.NewGuid()}, {room}, {key.Public.Key.ToArray()}, {secret}, {since}) ON CONFLICT DO NOTHING""", stop);
        return (await CurrentAsync(room, stop))!;
    }
}
