using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

[assembly: AssemblyFixture(typeof(Lyrotrans.Storage.Tests.StorageFixture))]

namespace Lyrotrans.Storage.Tests;

/// <summary>A real database, brought up to date, and a store beside it.</summary>
public sealed class StorageFixture : IDbContextFactory<LyroContext>, IDisposable
{
    private readonly TestCluster _cluster = new();
    private readonly DbContextOptions<LyroContext> _options;

    public StorageFixture()
    {
        _options = new DbContextOptionsBuilder<LyroContext>().UseNpgsql(_cluster.NewDatabase()).Options;
        using var database = CreateDbContext();
        database.Database.Migrate();
        Folder = Path.Combine(_cluster.Folder, "data");
        Store = new FileStore(new FolderObjects(Folder), Folder);
    }

    public string Folder { get; }

    public FileStore Store { get; }

    public RoomMediaStores Rooms => new(Store, this);

    public LyroContext CreateDbContext() => new(_options);

    public RevisionLog Log(LyroContext database) => new(database, new DocumentStore(Store));

    /// <summary>A new room with one transfer.</summary>
    public (Guid Room, Guid Transfer) NewRoom()
    {
        using var database = CreateDbContext();
        var room = new Room { Id = Guid.NewGuid(), Name = "Quillfeather Hall" };
        var transfer = new Transfer { Id = Guid.NewGuid(), RoomId = room.Id, Name = "Orrery Suite", ChangedAt = DateTimeOffset.UtcNow };
        database.AddRange(room, transfer);
        database.SaveChanges();
        return (room.Id, transfer.Id);
    }

    /// <summary>A file that has arrived and lies where files wait to be taken.</summary>
    public string Arrived(string text)
    {
        var path = Path.Combine(Store.Incoming, Guid.NewGuid().ToString("N"));
        File.WriteAllText(path, text);
        return path;
    }

    public void Dispose() => _cluster.Dispose();
}
