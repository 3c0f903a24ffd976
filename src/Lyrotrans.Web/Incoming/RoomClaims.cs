using Lyrotrans.Core.Naming;
using Lyrotrans.Files;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Incoming;

/// <summary>
/// Gives out the space of rooms and of the disk, one claim after the other: what was given to one is never given to the next, whichever process asks. Whatever
/// writes into a room for long, files on their way in, what they unpack to, and packages, claims here first.
/// </summary>
public sealed class RoomClaims(LyroContext database, ArrivingFiles files, RoomSpace space, FileStore store, Settings settings)
{
    private const long Lock = 0x4C59524F;

    /// <summary>How much of the disk a room takes, with what is on its way there.</summary>
    public async Task<RoomUse> UseAsync(Guid room, CancellationToken stop)
    {
        var transfers = database.Transfers.Where(t => t.RoomId == room).Select(t => t.Id);
        var batches = database.Batches.Where(b => transfers.Contains(b.TransferId));
        var coming = await ComingAsync(batches, database.Builds.Where(b => transfers.Contains(b.TransferId)), stop);
        return new RoomUse(await space.UsedAsync(room, stop) + await files.HereAsync(batches, stop), coming, settings.RoomBytes);
    }

    /// <summary>Why something of so many bytes does not fit into a room or onto the disk as things are, in words; null where it does.</summary>
    public async Task<string?> ProblemAsync(Guid room, string what, long bytes, CancellationToken stop) =>
        (await UseAsync(room, stop)).Problem(what, bytes) ?? DiskProblem(what, bytes, await ComingAsync(database.Batches, database.Builds, stop));

    /// <summary>Keeps what stands for the bytes, where they fit.</summary>
    /// <param name="room">That they come into.</param>
    /// <param name="what">They are, for words.</param>
    /// <param name="bytes">How many.</param>
    /// <param name="keep">Writes the row that counts from then on.</param>
    /// <param name="stop">Stops the asking.</param>
    /// <returns>Why they do not fit, in words; null where they were given.</returns>
    public async Task<string?> TryAsync(Guid room, string what, long bytes, Func<Task> keep, CancellationToken stop)
    {
        await using var alone = await database.Database.BeginTransactionAsync(stop);
        await database.Database.ExecuteSqlAsync($"SELECT pg_advisory_xact_lock({Lock})", stop);
        if (await ProblemAsync(room, what, bytes, stop) is { } problem)
        {
            return problem;
        }

        await keep();
        await alone.CommitAsync(stop);
        return null;
    }

    /// <summary>Claims bytes for work, beside what it claimed before; it has them until it ends or gives them back.</summary>
    /// <param name="work">The rows of one table.</param>
    /// <param name="id">Of the work.</param>
    /// <param name="room">As for <see cref="TryAsync"/>, with what follows.</param>
    /// <param name="what">They are, for words.</param>
    /// <param name="bytes">How many; fewer than 0 are given back.</param>
    /// <param name="stop">Stops the asking.</param>
    /// <returns>Why they do not fit, in words; null where it has them.</returns>
    public async Task<string?> TryAsync<T>(DbSet<T> work, Guid id, Guid room, string what, long bytes, CancellationToken stop)
        where T : LongWork
    {
        if (bytes > 0)
        {
            return await TryAsync(room, what, bytes, KeepAsync, stop);
        }

        await KeepAsync();
        return null;

        Task KeepAsync() => work.Where(w => w.Id == id).ExecuteUpdateAsync(w => w.SetProperty(x => x.Claimed, x => x.Claimed + bytes), stop);
    }

    private string? DiskProblem(string what, long bytes, long coming) => DiskSpace.FreeIn(store.Incoming) - coming is { } free && free < bytes
        ? $"{what} needs {Digits.Bytes(bytes)}, and {Digits.Bytes(Math.Max(0, free))} are free on the server beside what is on its way. Make room there first."
        : null;

    private async Task<long> ComingAsync(IQueryable<IntakeBatch> batches, IQueryable<PackageBuild> builds, CancellationToken stop) =>
        await files.AnnouncedAsync(batches, stop) + await ClaimedAsync(batches, stop) + await ClaimedAsync(builds, stop);

    private static Task<long> ClaimedAsync<T>(IQueryable<T> work, CancellationToken stop)
        where T : LongWork => work.Where(w => w.State == WorkState.Working).SumAsync(w => w.Claimed, stop);
}
