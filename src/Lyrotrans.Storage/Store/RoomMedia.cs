using System.Collections.Concurrent;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Store;

/// <summary>
/// The media that one room brought in: a row for each of their hashes says so. For one request or one piece of work: what it has asked it keeps. Can be
/// asked by several threads at once.
/// </summary>
public sealed class RoomMedia : IMediaStore
{
    private readonly FileStore _store;
    private readonly IDbContextFactory<LyroContext> _contexts;
    private readonly ConcurrentDictionary<string, bool> _held = [];
    private readonly ConcurrentQueue<IReadOnlyCollection<string>> _expected = [];

    internal RoomMedia(FileStore store, IDbContextFactory<LyroContext> contexts, Guid roomId)
    {
        _store = store;
        _contexts = contexts;
        RoomId = roomId;
    }

    /// <summary>Whose media these are.</summary>
    public Guid RoomId { get; }

    public string Scratch => _store.Scratch;

    /// <summary>Hashes that will be asked for: the first question asks for all of them at once.</summary>
    public RoomMedia Expecting(IEnumerable<string?> hashes)
    {
        _expected.Enqueue([.. hashes.OfType<string>()]);
        return this;
    }

    public bool Has(string sha256) => FileHash.Is(sha256) && Held(sha256) && _store.Find(sha256) is not null;

    public IStoredFile FileOf(string sha256) => _store.Find(Checked(sha256)) ?? throw new InvalidOperationException("This room's file is not in the store.");

    public IStoredFile? DerivedOf(string sha256, string what) => _store.Derived(Checked(sha256), what);

    public void KeepDerived(string sha256, string what, Action<Stream> write) => _store.KeepDerived(Checked(sha256), what, write);

    // The row comes first: a file in the store that nobody holds would be lost.
    public async Task TakeAsync(string path, string sha256, CancellationToken stop)
    {
        await using var database = await _contexts.CreateDbContextAsync(stop);
        var bytes = File.Exists(path) ? new FileInfo(path).Length : (long?)null;
        await HoldAsync(database, sha256, bytes, stop);
        await using var turn = await database.Database.BeginTransactionAsync(stop);
        await StoreTurns.ToTakeAsync(database, stop);
        await HoldAsync(database, sha256, bytes, stop);
        _store.Take(path, sha256);
        await turn.CommitAsync(CancellationToken.None);
        _held[sha256] = true;
    }

    /// <summary>
    /// Lets go of a file, with all that was made from it; the only way to do so. Its bytes go where no other room brought them in and no revision is made of them. Whether this room's
    /// own transfers need it still is for whoever calls this to know.
    /// </summary>
    public async Task LetGoAsync(string sha256, CancellationToken stop)
    {
        await using var database = await _contexts.CreateDbContextAsync(stop);
        await using var turn = await database.Database.BeginTransactionAsync(stop);
        await StoreTurns.ToLetGoAsync(database, stop);
        if (await database.RoomMedia.Where(m => m.RoomId == RoomId && m.Sha256 == sha256).ExecuteDeleteAsync(stop) == 1)
        {
            var needed = await database.RoomMedia.AnyAsync(m => m.Sha256 == sha256, stop)
                || await database.Revisions.AnyAsync(r => r.IntakeSha == sha256 || r.SessionSha == sha256 || r.ReceiversSha == sha256, stop);

            if (!needed)
            {
                _store.LetGo(sha256);
            }

            await turn.CommitAsync(CancellationToken.None);
        }

        _held[sha256] = false;
    }

    private async Task HoldAsync(LyroContext database, string sha256, long? bytes, CancellationToken stop) => await database.Database.ExecuteSqlAsync(
        $"""INSERT INTO "RoomMedia" ("RoomId", "Sha256", "Bytes", "At") VALUES ({RoomId}, {sha256}, {bytes}, {DateTimeOffset.UtcNow}) ON CONFLICT DO NOTHING""", stop);

    private string Checked(string sha256) => !FileHash.Is(sha256) ? throw new ArgumentException("A stored file is named by its SHA-256.")
        : Held(sha256) ? sha256 : throw new InvalidOperationException("This room brought in no such file.");

    private bool Held(string sha256)
    {
        if (_held.TryGetValue(sha256, out var held))
        {
            return held;
        }

        var asked = new HashSet<string> { sha256 };
        while (_expected.TryDequeue(out var more))
        {
            asked.UnionWith(more.Where(FileHash.Is));
        }

        var hashes = asked.ToArray();
        using var database = _contexts.CreateDbContext();
        var found = database.RoomMedia.Where(m => m.RoomId == RoomId && hashes.Contains(m.Sha256)).Select(m => m.Sha256).ToHashSet();
        foreach (var hash in hashes)
        {
            _held[hash] = found.Contains(hash);
        }

        return found.Contains(sha256);
    }
}
