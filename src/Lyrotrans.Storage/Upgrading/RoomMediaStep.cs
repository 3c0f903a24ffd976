using Lyrotrans.Files;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Upgrading;

/// <summary>
/// Says of data that are older than the media of rooms whose they are: what each room's intakes took in, and never what a session's document names. A file that
/// was made by joining channels goes along only where no session of its transfer ever named the sound of another room; else it is missing, and joined again.
/// </summary>
public sealed class RoomMediaStep(LyroContext database, FileStore store, DocumentStore documents)
{
    private const string Name = "media of rooms";

    /// <summary>Runs once for a database; what is taken in by now has its rows already.</summary>
    /// <param name="intake">The hashes of an intake's items, and of the files that it made of them.</param>
    /// <param name="session">The hashes that a session's document names.</param>
    /// <param name="stop">Stops between transfers; nothing is kept then.</param>
    public async Task RunAsync(Func<byte[], (IEnumerable<string> Items, IEnumerable<string> Made)> intake, Func<byte[], IEnumerable<string>> session, CancellationToken stop)
    {
        if (await database.DataSteps.AnyAsync(s => s.Name == Name, stop))
        {
            return;
        }

        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        foreach (var room in await database.Rooms.Select(r => r.Id).ToListAsync(stop))
        {
            foreach (var sha256 in await HeldAsync(room, intake, session, stop))
            {
                await database.Database.ExecuteSqlAsync($"""INSERT INTO "RoomMedia" ("RoomId", "Sha256", "At") VALUES ({room}, {sha256}, {DateTimeOffset.UtcNow}) ON CONFLICT DO NOTHING""", stop);
            }
        }

        database.DataSteps.Add(new DataStep { Name = Name, At = DateTimeOffset.UtcNow });
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
    }

    private async Task<HashSet<string>> HeldAsync(
        Guid room, Func<byte[], (IEnumerable<string> Items, IEnumerable<string> Made)> intake, Func<byte[], IEnumerable<string>> session, CancellationToken stop)
    {
        var revisions = await database.Revisions.AsNoTracking().Where(r => database.Transfers.Any(t => t.Id == r.TransferId && t.RoomId == room)).ToListAsync(stop);
        var held = (await database.RoomMedia.Where(m => m.RoomId == room).Select(m => m.Sha256).ToListAsync(stop)).ToHashSet();
        var made = new Dictionary<Guid, HashSet<string>>();
        foreach (var revision in revisions.DistinctBy(r => (r.TransferId, r.IntakeSha)))
        {
            var (items, files) = intake(documents.Intake(revision));
            held.UnionWith(items.Where(FileHash.Is));
            made.TryAdd(revision.TransferId, []);
            made[revision.TransferId].UnionWith(files.Where(FileHash.Is));
        }

        foreach (var (transfer, files) in made.Where(m => m.Value.Count > 0))
        {
            stop.ThrowIfCancellationRequested();
            var named = revisions.Where(r => r.TransferId == transfer).DistinctBy(r => r.SessionSha).SelectMany(r => session(documents.Session(r)));
            if (!named.Any(n => !held.Contains(n) && !files.Contains(n) && store.Find(n) is not null))
            {
                held.UnionWith(files);
            }
        }

        return held;
    }
}
