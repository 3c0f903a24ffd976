using Hangfire;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Holds files that came back to what was sent, by their sound.</summary>
public sealed class ReturnJob(IDbContextFactory<LyroContext> contexts, IReturnChecks checks, ILogger<ReturnJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid id) => WorkRunner.RunAsync(new WorkRow<ReturnCheck>(contexts, id, "stopped", log), pulse => checks.LookAsync(id, pulse));
}
