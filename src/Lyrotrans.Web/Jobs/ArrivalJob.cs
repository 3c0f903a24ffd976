using Hangfire;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Holds what a receiver exported again to what was sent.</summary>
public sealed class ArrivalJob(IDbContextFactory<LyroContext> contexts, IArrivals arrivals, ILogger<ArrivalJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid id) => WorkRunner.RunAsync(new WorkRow<ArrivalCheck>(contexts, id, "stopped", log), pulse => arrivals.CompareAsync(id, pulse));
}
