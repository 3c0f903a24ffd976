using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Work that is kept in a row of the database. Each call has a connection of its own, so that the work itself can be in the middle of using another.</summary>
/// <param name="contexts">Gives connections.</param>
/// <param name="id">Of the row.</param>
/// <param name="stopped">What to say when it was stopped.</param>
/// <param name="log">Gets why it failed.</param>
public sealed class WorkRow<T>(IDbContextFactory<LyroContext> contexts, Guid id, string stopped, ILogger log) : IWorkRecord
    where T : LongWork
{
    private const int EndAttempts = 30;
    private static readonly TimeSpan s_endPause = TimeSpan.FromSeconds(2);
    private readonly Guid _me = Guid.NewGuid();

    public async Task<bool> BeginAsync()
    {
        await using var database = await contexts.CreateDbContextAsync();
        var now = DateTimeOffset.UtcNow;
        var dead = now - WorkLife.Dead;
        var free = database.Set<T>().Where(w => w.Id == id && (w.State == WorkState.Waiting || (w.State == WorkState.Working && (w.SeenAt == null || w.SeenAt < dead))));
        if (await free.Where(w => !w.StopAsked).ExecuteUpdateAsync(w => w
            .SetProperty(x => x.State, WorkState.Working).SetProperty(x => x.Owner, _me).SetProperty(x => x.SeenAt, now).SetProperty(x => x.Claimed, 0).SetProperty(x => x.Attempts, x => x.Attempts + 1)) == 1)
        {
            return true;
        }

        await free.Where(w => w.StopAsked).ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Stopped).SetProperty(x => x.Doing, stopped));
        return false;
    }

    public bool Beat(WorkProgress progress)
    {
        try
        {
            using var database = contexts.CreateDbContext();
            var mine = database.Set<T>().Where(w => w.Id == id && w.Owner == _me && w.State == WorkState.Working);
            var kept = progress.Doing.Length == 0
                ? mine.ExecuteUpdate(w => w.SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow))
                : mine.ExecuteUpdate(w => w.SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow).SetProperty(x => x.Fraction, progress.Fraction).SetProperty(x => x.Doing, progress.Doing));

            // Somebody took it on who believed this process dead; two must not go on with it.
            return kept == 0 || mine.Any(w => w.StopAsked);
        }
        catch (Exception problem)
        {
            // Whatever it is: the work can go on without the database for a while, and a beat comes from a timer that nobody watches.
            log.LogWarning("{Kind} {Id} could not say how far it is: {Problem}", typeof(T).Name, id, problem.Message);
            return false;
        }
    }

    public async Task EndAsync(WorkEnd end)
    {
        if (end.Problem is { } why)
        {
            log.LogWarning(why, "{Kind} {Id} failed: {Text} ({Code})", typeof(T).Name, id, end.Failure!.Text, end.Failure.Code);
        }

        for (var attempt = 1; ; attempt++)
        {
            try
            {
                await KeepAsync(end);
                return;
            }
            catch (Exception problem) when (attempt < EndAttempts && Failure.Of(problem).Code == WorkCodes.Database)
            {
                await Task.Delay(s_endPause);
            }
        }
    }

    private async Task KeepAsync(WorkEnd end)
    {
        await using var database = await contexts.CreateDbContextAsync();
        var mine = database.Set<T>().Where(w => w.Id == id && w.Owner == _me && w.State == WorkState.Working);
        if (end.Failure?.Code == WorkCodes.Database && await mine.Where(w => w.Attempts < WorkLife.MostAttempts).ExecuteUpdateAsync(w => w
            .SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.SeenAt, (DateTimeOffset?)null).SetProperty(x => x.Doing, "waiting: the database was away")) == 1)
        {
            // It was not the work's fault, and the database is there again: who looks for lost work finds it without a last sign, and it is begun anew.
            return;
        }

        await (end.Outcome switch
        {
            WorkOutcome.Done => mine.ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Done).SetProperty(x => x.Fraction, 1).SetProperty(x => x.Doing, end.Words)),
            WorkOutcome.Stopped => mine.ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Stopped).SetProperty(x => x.Doing, stopped)),
            _ => mine.ExecuteUpdateAsync(w => w.SetProperty(x => x.State, WorkState.Failed).SetProperty(x => x.Error, end.Failure!.Text).SetProperty(x => x.ErrorCode, end.Failure!.Code.Id)),
        });
    }
}
