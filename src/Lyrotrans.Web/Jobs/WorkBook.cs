using Hangfire;
using Lyrotrans.Core.Findings;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Lyrotrans.Web.Jobs;

/// <summary>Begins work, stops it, and finds it again when its process is gone: the one way for all of it.</summary>
public sealed class WorkBook(LyroContext database, IBackgroundJobClient jobs)
{
    private static readonly Finding s_died = new(WorkCodes.Died, string.Empty, $"It was begun {WorkLife.MostAttempts} times, and each time the program ended before it did. It was given up.");

    /// <summary>Begins a build; false where one of its transfer is waiting or at work, which then goes on, or was begun since the button was shown.</summary>
    /// <param name="build">What to make.</param>
    /// <param name="after">The newest build beside the button that was pressed, <see cref="Guid.Empty"/> for none: a button that is pressed six times makes one, however
    /// fast that one is. Null begins whatever there is.</param>
    /// <param name="stop">Stops the asking.</param>
    public async Task<bool> BeginAsync(PackageBuild build, Guid? after, CancellationToken stop)
    {
        (build.State, build.Doing, build.SeenAt) = (WorkState.Waiting, "waiting", DateTimeOffset.UtcNow);
        await using var alone = await database.Database.BeginTransactionAsync(stop);
        await database.Database.ExecuteSqlAsync($"""SELECT 1 FROM "Transfers" WHERE "Id" = {build.TransferId} FOR UPDATE""", stop);
        if (after is { } seen && await database.Builds.Where(b => b.TransferId == build.TransferId && b.ReceiverId == build.ReceiverId).OrderByDescending(b => b.At).Select(b => b.Id).FirstOrDefaultAsync(stop) != seen)
        {
            return false;
        }

        database.Builds.Add(build);
        try
        {
            await database.SaveChangesAsync(stop);
            await alone.CommitAsync(stop);
            Queue(typeof(PackageBuild), build.Id);
            return true;
        }
        catch (DbUpdateException problem) when (problem.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            database.Entry(build).State = EntityState.Detached;
            return false;
        }
    }

    /// <summary>Begins to read a batch whose files have all arrived; nothing happens where that was begun already.</summary>
    public async Task BeginAsync(IntakeBatch batch, CancellationToken stop)
    {
        if (await database.Batches.Where(b => b.Id == batch.Id && b.State == WorkState.Receiving)
            .ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.Doing, "waiting to be read").SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow), stop) == 1)
        {
            Queue(typeof(IntakeBatch), batch.Id);
        }
    }

    /// <summary>Begins to read a batch again that failed; nothing happens to any other.</summary>
    public async Task AgainAsync(Guid batch, CancellationToken stop)
    {
        // Not the first time: what it had done before it failed is not done twice.
        if (await database.Batches.Where(b => b.Id == batch && b.State == WorkState.Failed).ExecuteUpdateAsync(
            b => b.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.Doing, "waiting to be read").SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow)
                .SetProperty(x => x.Attempts, 1).SetProperty(x => x.StopAsked, false).SetProperty(x => x.Error, (string?)null).SetProperty(x => x.ErrorCode, (string?)null),
            stop) == 1)
        {
            Queue(typeof(IntakeBatch), batch);
        }
    }

    /// <summary>Asks work to stop; what is not begun is stopped at once.</summary>
    /// <param name="work">The rows; those that have ended stay as they are.</param>
    /// <param name="stop">Stops the asking.</param>
    public static async Task StopAsync<T>(IQueryable<T> work, CancellationToken stop)
        where T : LongWork
    {
        await work.ExecuteUpdateAsync(w => w.SetProperty(x => x.StopAsked, true), stop);
        await work.Where(w => w.State == WorkState.Receiving || w.State == WorkState.Waiting).ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Stopped).SetProperty(x => x.Doing, "stopped"), stop);
    }

    /// <summary>Puts into the queue again what lost its process or its place in it; gives up what died too often.</summary>
    public async Task FindAsync(CancellationToken stop)
    {
        await FindAsync(database.Builds, stop);
        await FindAsync(database.Batches, stop);
        await FindAsync(database.FolderDeliveries, stop);
        await FindAsync(database.ArrivalChecks, stop);
        await FindAsync(database.ReturnChecks, stop);
        await FindAsync(database.RehearsalRuns, stop);
    }

    /// <summary>Begins to look at what came back; false where that is at work already for its link.</summary>
    public Task<bool> BeginAsync(ReturnCheck check, CancellationToken stop) => BeginOneAsync(check, stop);

    /// <summary>Begins to read a package back; false where that is at work already for it.</summary>
    public Task<bool> BeginAsync(RehearsalRun run, CancellationToken stop) => BeginOneAsync(run, stop);

    // The database keeps it to one at a time.
    private async Task<bool> BeginOneAsync<T>(T work, CancellationToken stop)
        where T : LongWork
    {
        (work.State, work.Doing, work.SeenAt) = (WorkState.Waiting, "waiting", DateTimeOffset.UtcNow);
        database.Add(work);
        try
        {
            await database.SaveChangesAsync(stop);
            Queue(typeof(T), work.Id);
            return true;
        }
        catch (DbUpdateException problem) when (problem.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            database.Entry(work).State = EntityState.Detached;
            return false;
        }
    }

    /// <summary>Begins a comparison whose files are all here; nothing happens where it was begun already.</summary>
    public async Task BeginAsync(ArrivalCheck check, CancellationToken stop)
    {
        if (await database.ArrivalChecks.Where(c => c.Id == check.Id && c.State == WorkState.Receiving)
            .ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.Doing, "waiting").SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow), stop) == 1)
        {
            Queue(typeof(ArrivalCheck), check.Id);
        }
    }

    /// <summary>Begins to put a package into a folder.</summary>
    public async Task BeginAsync(FolderDelivery delivery, CancellationToken stop)
    {
        (delivery.State, delivery.Doing, delivery.SeenAt) = (WorkState.Waiting, "waiting", DateTimeOffset.UtcNow);
        database.FolderDeliveries.Add(delivery);
        await database.SaveChangesAsync(stop);
        Queue(typeof(FolderDelivery), delivery.Id);
    }

    /// <summary>Begins to look once more at what lies in a folder, or to put it there again where that failed; nothing happens while it is at work.</summary>
    public async Task AgainAsync(IQueryable<FolderDelivery> delivery, CancellationToken stop)
    {
        var ids = await delivery.Where(d => d.State == WorkState.Done || d.State == WorkState.Failed || d.State == WorkState.Stopped).Select(d => d.Id).ToListAsync(stop);
        foreach (var id in ids)
        {
            if (await database.FolderDeliveries.Where(d => d.Id == id && d.State != WorkState.Waiting && d.State != WorkState.Working).ExecuteUpdateAsync(
                d => d.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.Doing, "waiting").SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow)
                    .SetProperty(x => x.Attempts, 0).SetProperty(x => x.StopAsked, false).SetProperty(x => x.Error, (string?)null).SetProperty(x => x.ErrorCode, (string?)null),
                stop) == 1)
            {
                Queue(typeof(FolderDelivery), id);
            }
        }
    }

    private async Task FindAsync<T>(DbSet<T> rows, CancellationToken stop)
        where T : LongWork
    {
        var now = DateTimeOffset.UtcNow;
        var (dead, forgotten) = (now - WorkLife.Dead, now - WorkLife.Forgotten);
        var lost = rows.Where(w => w.State == WorkState.Working && (w.SeenAt == null || w.SeenAt < dead));
        await lost.Where(w => w.Attempts >= WorkLife.MostAttempts)
            .ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Failed).SetProperty(x => x.Error, s_died.Text).SetProperty(x => x.ErrorCode, s_died.Code.Id), stop);
        var found = await lost.Select(w => w.Id).ToListAsync(stop);
        found.AddRange(await rows.Where(w => w.State == WorkState.Waiting && (w.SeenAt == null || w.SeenAt < forgotten)).Select(w => w.Id).ToListAsync(stop));
        foreach (var id in found)
        {
            // Of several processes that look, one puts it in.
            if (await rows.Where(w => w.Id == id && ((w.State == WorkState.Working && (w.SeenAt == null || w.SeenAt < dead)) || (w.State == WorkState.Waiting && (w.SeenAt == null || w.SeenAt < forgotten))))
                .ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.SeenAt, now), stop) == 1)
            {
                Queue(typeof(T), id);
            }
        }
    }

    private void Queue(Type kind, Guid id)
    {
        if (kind == typeof(PackageBuild))
        {
            jobs.Enqueue<BuildJob>(job => job.RunAsync(id));
        }
        else if (kind == typeof(FolderDelivery))
        {
            jobs.Enqueue<FolderJob>(job => job.RunAsync(id));
        }
        else if (kind == typeof(ArrivalCheck))
        {
            jobs.Enqueue<ArrivalJob>(job => job.RunAsync(id));
        }
        else if (kind == typeof(ReturnCheck))
        {
            jobs.Enqueue<ReturnJob>(job => job.RunAsync(id));
        }
        else if (kind == typeof(RehearsalRun))
        {
            jobs.Enqueue<RehearsalJob>(job => job.RunAsync(id));
        }
        else
        {
            jobs.Enqueue<IntakeJob>(job => job.RunAsync(id));
        }
    }
}
