using Hangfire;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Reads a package back as its receiver would read it.</summary>
public sealed class RehearsalJob(IDbContextFactory<LyroContext> contexts, IRehearsals rehearsals, ILogger<RehearsalJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid id) => WorkRunner.RunAsync(new WorkRow<RehearsalRun>(contexts, id, "stopped", log), pulse => rehearsals.ReadAsync(id, pulse));
}
