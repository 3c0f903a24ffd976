using Lyrotrans.Web.Jobs;

namespace Lyrotrans.Web.Sweeping;

/// <summary>Sweeps every hour.</summary>
public sealed class SweepClock(IServiceScopeFactory scopes, ILogger<SweepClock> log) : Rounds(TimeSpan.FromHours(1), "What nobody goes on with could not be swept", scopes, log)
{
    protected override Task RoundAsync(IServiceProvider services, CancellationToken stop) => services.GetRequiredService<Sweeper>().SweepAsync(stop);
}
