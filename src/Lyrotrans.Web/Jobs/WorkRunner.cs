using Lyrotrans.Core.Errors;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Workflow;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Runs long work once: says how far it is, heeds a stop, and keeps how it ended. Work that has ended is not run again.</summary>
public sealed class WorkRunner(LyroContext database, ILogger<WorkRunner> log)
{
    /// <param name="rows">Where the work's row lies.</param>
    /// <param name="work">The row.</param>
    /// <param name="stopped">What to say when it was stopped.</param>
    /// <param name="run">The work; says at its end what was done in <see cref="LongWork.Doing"/>.</param>
    public async Task RunAsync<T>(DbSet<T> rows, T work, string stopped, Func<JobPulse, Task> run)
        where T : LongWork
    {
        if (work.State is WorkState.Done or WorkState.Failed or WorkState.Stopped)
        {
            return;
        }

        work.State = work.StopAsked ? WorkState.Stopped : WorkState.Working;
        work.Doing = work.StopAsked ? stopped : work.Doing;
        await database.SaveChangesAsync();
        if (work.State == WorkState.Stopped)
        {
            return;
        }

        using var pulse = new JobPulse(progress => Beat(rows, work.Id, progress));
        try
        {
            await run(pulse);
            work.State = WorkState.Done;
            work.Fraction = 1;
        }
        catch (OperationCanceledException)
        {
            work.State = WorkState.Stopped;
            work.Doing = stopped;
        }
        catch (Exception problem) when (problem is IOException or BadInputException or UnauthorizedAccessException or RevisionConflictException)
        {
            log.LogWarning(problem, "{Kind} {Id} failed", typeof(T).Name, work.Id);
            work.State = WorkState.Failed;
            work.Error = problem.Message;
        }

        await database.SaveChangesAsync();
    }

    private static bool Beat<T>(DbSet<T> rows, Guid id, WorkProgress progress)
        where T : LongWork
    {
        rows.Where(w => w.Id == id).ExecuteUpdate(w => w.SetProperty(x => x.Fraction, progress.Fraction).SetProperty(x => x.Doing, progress.Doing));
        return rows.AsNoTracking().Where(w => w.Id == id).Select(w => w.StopAsked).Single();
    }
}
