using Lyrotrans.Web.Jobs;

namespace Lyrotrans.Web.Uploading;

/// <summary>Sweeps when the application has begun, and every hour after.</summary>
public sealed class SweepClock(IServiceScopeFactory scopes, ILogger<SweepClock> log) : BackgroundService
{
    private static readonly TimeSpan s_every = TimeSpan.FromHours(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_every);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<Sweeper>().SweepAsync(stoppingToken);
            }
            catch (Exception problem) when (!stoppingToken.IsCancellationRequested)
            {
                // One round that failed, whatever the reason, must not be the last.
                log.LogWarning("What nobody goes on with could not be swept: {Problem}", problem.Message);
            }
        }
        while (await WorkKeeper.WaitAsync(timer, stoppingToken));
    }
}
