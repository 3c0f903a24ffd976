using Hangfire;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Makes the landmarks of a package that was built, so that what comes back is known soon. What hinders it is met again, and said, when something comes back.</summary>
public sealed class MarksJob(LyroContext database, PackageStore packages, PackageMarks marks, DeskLoader desks, ILogger<MarksJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public async Task RunAsync(Guid buildId, CancellationToken stop)
    {
        try
        {
            if (await database.Builds.AsNoTracking().SingleOrDefaultAsync(b => b.Id == buildId && b.State == WorkState.Done, stop) is { } build && packages.Kept(buildId) is { } package)
            {
                marks.Make(package, (await desks.PlanAsync(build, stop)).Plan, stop);
            }
        }
        catch (Exception problem) when (problem is not OperationCanceledException)
        {
            log.LogWarning(problem, "Landmarks of build {Build} could not be made", buildId);
        }
    }
}
