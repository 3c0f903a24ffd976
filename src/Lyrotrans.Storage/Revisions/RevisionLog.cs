using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Revisions;

/// <summary>
/// A transfer's revisions. Every change is made from a known revision; if another one is in force by then, the change is
/// refused with who made it. Undo goes back to the parent, redo to its newest child; nothing is ever deleted.
/// </summary>
public sealed class RevisionLog(LyroContext database, DocumentStore store)
{
    /// <exception cref="RevisionConflictException">Another revision than <paramref name="from"/> is in force.</exception>
    public async Task<Revision> CommitAsync(Guid transferId, int from, string words, string by, RevisionDocuments documents, CancellationToken stop)
    {
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        await StoreTurns.ToTakeAsync(database, stop);
        var kept = await store.KeepAsync(documents, stop);
        var revision = new Revision
        {
            Id = Guid.NewGuid(),
            TransferId = transferId,
            Parent = from,
            Words = words,
            By = by,
            At = DateTimeOffset.UtcNow,
            IntakeSha = kept.Intake,
            SessionSha = kept.Session,
            ReceiversSha = kept.Receivers,
        };
        var transfer = await LockedAsync(transferId, from, stop);
        revision.Number = 1 + (await database.Revisions.Where(r => r.TransferId == transferId).MaxAsync(r => (int?)r.Number, stop) ?? 0);
        database.Revisions.Add(revision);
        transfer.Current = revision.Number;
        transfer.ChangedAt = revision.At;
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return revision;
    }

    /// <summary>Goes back to the revision that the one in force was made from; false at the beginning.</summary>
    public Task<bool> UndoAsync(Guid transferId, int from, CancellationToken stop) => MoveAsync(transferId, from, revisions =>
        revisions.FirstOrDefault(r => r.Number == from)?.Parent is > 0 and var parent ? parent : null, stop);

    /// <summary>Goes forward to the newest revision made from the one in force; false where there is none.</summary>
    public Task<bool> RedoAsync(Guid transferId, int from, CancellationToken stop) => MoveAsync(transferId, from, revisions =>
        revisions.Where(r => r.Parent == from).Select(r => (int?)r.Number).Max(), stop);

    /// <summary>Opens any revision again.</summary>
    public Task<bool> OpenAsync(Guid transferId, int from, int number, CancellationToken stop) => MoveAsync(transferId, from, revisions =>
        revisions.Any(r => r.Number == number) ? number : null, stop);

    /// <summary>Gives a revision a name, or takes it away with an empty one; false where there is no such revision. What it says stays as it is.</summary>
    public async Task<bool> NameAsync(Guid transferId, int number, string name, CancellationToken stop) =>
        await database.Revisions.Where(r => r.TransferId == transferId && r.Number == number).ExecuteUpdateAsync(r => r.SetProperty(p => p.Name, name), stop) > 0;

    /// <summary>Begins another transfer of the same room at a revision, which is its first; null where there is no such revision.</summary>
    public async Task<Transfer?> BranchAsync(Guid transferId, int number, string name, string by, CancellationToken stop)
    {
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        await StoreTurns.ToTakeAsync(database, stop);
        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == transferId, stop);
        if (await database.Revisions.AsNoTracking().SingleOrDefaultAsync(r => r.TransferId == transferId && r.Number == number, stop) is not { } from)
        {
            return null;
        }

        var made = new Transfer { Id = Guid.NewGuid(), RoomId = transfer.RoomId, Name = name, Receiver = transfer.Receiver, Current = 1, ChangedAt = DateTimeOffset.UtcNow };
        database.Transfers.Add(made);
        database.Revisions.Add(new Revision
        {
            Id = Guid.NewGuid(),
            TransferId = made.Id,
            Number = 1,
            Words = $"from revision {number} of {transfer.Name}",
            By = by,
            At = made.ChangedAt,
            IntakeSha = from.IntakeSha,
            SessionSha = from.SessionSha,
            ReceiversSha = from.ReceiversSha,
        });
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return made;
    }

    /// <summary>Gives an empty transfer all revisions of an archive, with their numbers, words, names and dates.</summary>
    /// <param name="transferId">Without a revision.</param>
    /// <param name="revisions">With their documents; what the rows say of hashes is made here.</param>
    /// <param name="current">The number of the one in force.</param>
    /// <param name="stop">Stops it; nothing was changed then.</param>
    /// <exception cref="RevisionConflictException">The transfer has a revision.</exception>
    public async Task RestoreAsync(Guid transferId, IReadOnlyList<(Revision Row, RevisionDocuments Documents)> revisions, int current, CancellationToken stop)
    {
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        await StoreTurns.ToTakeAsync(database, stop);
        var transfer = await LockedAsync(transferId, 0, stop);
        foreach (var (row, documents) in revisions)
        {
            (row.IntakeSha, row.SessionSha, row.ReceiversSha) = await store.KeepAsync(documents, stop);
            (row.Id, row.TransferId) = (Guid.NewGuid(), transferId);
            database.Revisions.Add(row);
        }

        (transfer.Current, transfer.ChangedAt) = (current, DateTimeOffset.UtcNow);
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
    }

    private async Task<bool> MoveAsync(Guid transferId, int from, Func<List<Revision>, int?> target, CancellationToken stop)
    {
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        var transfer = await LockedAsync(transferId, from, stop);
        if (target(await database.Revisions.Where(r => r.TransferId == transferId).ToListAsync(stop)) is not { } number)
        {
            return false;
        }

        transfer.Current = number;
        transfer.ChangedAt = DateTimeOffset.UtcNow;
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return true;
    }

    // The row lock makes two changes at once take turns; the second then sees the first.
    private async Task<Transfer> LockedAsync(Guid transferId, int from, CancellationToken stop)
    {
        var transfer = await database.Transfers.FromSql($"""SELECT * FROM "Transfers" WHERE "Id" = {transferId} FOR UPDATE""").SingleAsync(stop);
        await database.Entry(transfer).ReloadAsync(stop);
        if (transfer.Current != from)
        {
            var other = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == transferId && r.Number == transfer.Current, stop);
            throw new RevisionConflictException(other.By, other.Number, other.Words);
        }

        return transfer;
    }
}
