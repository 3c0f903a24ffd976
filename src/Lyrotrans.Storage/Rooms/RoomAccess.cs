using Lyrotrans.Storage.Model;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Rooms;

/// <summary>What a person may see: the rooms that they are a member of, and what those have. Every question of rights is asked here.</summary>
public sealed class RoomAccess(LyroContext database)
{
    /// <summary>Those of a person, the first joined first.</summary>
    public Task<List<Room>> RoomsAsync(Guid account, CancellationToken stop) => database.Memberships.AsNoTracking()
        .Where(m => m.AccountId == account).OrderBy(m => m.Since).Join(database.Rooms, m => m.RoomId, r => r.Id, (_, r) => r).ToListAsync(stop);

    /// <summary>The transfers of a person's rooms.</summary>
    public IQueryable<Transfer> Transfers(Guid account) =>
        database.Transfers.AsNoTracking().Where(t => database.Memberships.Any(m => m.AccountId == account && m.RoomId == t.RoomId));

    /// <summary>The uploads' batches of a person's rooms; changes to them are kept.</summary>
    public IQueryable<IntakeBatch> Batches(Guid account) => database.Batches.AsNoTracking().Where(b => Transfers(account).Any(t => t.Id == b.TransferId));

    /// <summary>The builds of a person's rooms.</summary>
    public IQueryable<PackageBuild> Builds(Guid account) => database.Builds.AsNoTracking().Where(b => Transfers(account).Any(t => t.Id == b.TransferId));

    /// <summary>The links to packages of a person's rooms.</summary>
    public IQueryable<PackageLink> Links(Guid account) => database.Links.AsNoTracking().Where(l => Builds(account).Any(b => b.Id == l.BuildId));

    /// <summary>The deliveries into folders of packages of a person's rooms.</summary>
    public IQueryable<FolderDelivery> FolderDeliveries(Guid account) => database.FolderDeliveries.AsNoTracking().Where(d => Builds(account).Any(b => b.Id == d.BuildId));
}
