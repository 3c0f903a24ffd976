using System.Text;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Tests;

public sealed class RevisionLogTests(StorageFixture storage)
{
    private static RevisionDocuments Documents(string words) => new(Encoding.UTF8.GetBytes($"intake {words}"), Encoding.UTF8.GetBytes($"session {words}"), Encoding.UTF8.GetBytes($"preparation {words}"));

    private async Task<Revision> CommitAsync(Guid transfer, int from, string words)
    {
        await using var database = storage.CreateDbContext();
        return await storage.Log(database).CommitAsync(transfer, from, words, "an engineer", Documents(words), CancellationToken.None);
    }

    private async Task<bool> MoveAsync(Func<RevisionLog, Task<bool>> move)
    {
        await using var database = storage.CreateDbContext();
        return await move(storage.Log(database));
    }

    private async Task<int> CurrentAsync(Guid transfer)
    {
        await using var database = storage.CreateDbContext();
        return (await database.Transfers.SingleAsync(t => t.Id == transfer)).Current;
    }

    [Fact]
    public async Task A_revision_has_its_documents_and_the_next_number()
    {
        var transfer = storage.NewRoom().Transfer;
        var first = await CommitAsync(transfer, 0, "first");
        var second = await CommitAsync(transfer, 1, "second");
        Assert.Equal((1, 0, 2, 1), (first.Number, first.Parent, second.Number, second.Parent));
        var documents = new DocumentStore(storage.Store);
        Assert.Equal("intake second", Encoding.UTF8.GetString(documents.Intake(second)));
        Assert.Equal("session first", Encoding.UTF8.GetString(documents.Session(first)));
        Assert.Equal("preparation second", Encoding.UTF8.GetString(documents.Receivers(second)));
    }

    [Fact]
    public async Task A_revision_is_named_and_another_transfer_begins_at_it_with_the_same_documents()
    {
        var transfer = storage.NewRoom().Transfer;
        await CommitAsync(transfer, 0, "first");
        await CommitAsync(transfer, 1, "second");
        Assert.True(await MoveAsync(log => log.NameAsync(transfer, 1, "as recorded", CancellationToken.None)));
        Assert.False(await MoveAsync(log => log.NameAsync(transfer, 9, "none", CancellationToken.None)));
        Transfer? made;
        await using (var database = storage.CreateDbContext())
        {
            made = await storage.Log(database).BranchAsync(transfer, 1, "Another way", "an engineer", CancellationToken.None);
            Assert.Null(await storage.Log(database).BranchAsync(transfer, 9, "x", "an engineer", CancellationToken.None));
        }

        await using var reading = storage.CreateDbContext();
        var all = await reading.Revisions.AsNoTracking().Where(r => r.TransferId == transfer || r.TransferId == made!.Id).ToListAsync();
        var (first, branch) = (all.Single(r => r.TransferId == transfer && r.Number == 1), all.Single(r => r.TransferId == made!.Id));
        Assert.Equal("as recorded", first.Name);
        Assert.Equal((1, 0, first.SessionSha, first.IntakeSha, first.ReceiversSha), (branch.Number, branch.Parent, branch.SessionSha, branch.IntakeSha, branch.ReceiversSha));
        Assert.Equal((await reading.Transfers.SingleAsync(t => t.Id == transfer)).RoomId, (await reading.Transfers.SingleAsync(t => t.Id == made!.Id)).RoomId);
        Assert.Equal(2, await CurrentAsync(transfer));
        Assert.Equal(2, (await CommitAsync(made!.Id, 1, "third")).Number);
    }

    [Fact]
    public async Task Of_many_changes_of_one_revision_at_once_one_is_kept_and_the_others_are_told_whose()
    {
        var transfer = storage.NewRoom().Transfer;
        await CommitAsync(transfer, 0, "first");
        var results = await Task.WhenAll(Enumerable.Range(0, 8).Select(async i =>
        {
            try
            {
                return (await CommitAsync(transfer, 1, $"change {i}")).Words;
            }
            catch (RevisionConflictException conflict)
            {
                Assert.Contains("an engineer made revision 2", conflict.Message, StringComparison.Ordinal);
                return null;
            }
        }));
        var kept = Assert.Single(results, r => r is not null);
        await using var database = storage.CreateDbContext();
        Assert.Equal(["first", kept!], await database.Revisions.Where(r => r.TransferId == transfer).OrderBy(r => r.Number).Select(r => r.Words).ToListAsync());
        Assert.Equal(2, await CurrentAsync(transfer));
    }

    [Fact]
    public async Task Undo_and_redo_follow_the_line_that_was_made_last_and_nothing_is_lost()
    {
        var transfer = storage.NewRoom().Transfer;
        Assert.False(await MoveAsync(l => l.UndoAsync(transfer, 0, CancellationToken.None)));
        await CommitAsync(transfer, 0, "one");
        await CommitAsync(transfer, 1, "two");
        Assert.True(await MoveAsync(l => l.UndoAsync(transfer, 2, CancellationToken.None)));
        await CommitAsync(transfer, 1, "three");
        Assert.True(await MoveAsync(l => l.UndoAsync(transfer, 3, CancellationToken.None)));
        Assert.True(await MoveAsync(l => l.RedoAsync(transfer, 1, CancellationToken.None)));
        Assert.Equal(3, await CurrentAsync(transfer));
        Assert.True(await MoveAsync(l => l.OpenAsync(transfer, 3, 2, CancellationToken.None)));
        Assert.Equal(2, await CurrentAsync(transfer));
        Assert.False(await MoveAsync(l => l.OpenAsync(transfer, 2, 9, CancellationToken.None)));
        Assert.False(await MoveAsync(l => l.RedoAsync(transfer, 2, CancellationToken.None)));
        await Assert.ThrowsAsync<RevisionConflictException>(() => MoveAsync(l => l.UndoAsync(transfer, 3, CancellationToken.None)));
    }

    [Fact]
    public async Task The_migrations_say_all_that_the_model_says()
    {
        await using var database = storage.CreateDbContext();
        Assert.False(database.Database.HasPendingModelChanges());
        Assert.Empty(await database.Database.GetPendingMigrationsAsync());
    }
}
