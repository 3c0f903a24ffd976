namespace Lyrotrans.Web.Jobs;

/// <summary>Looks every few seconds for work whose process is gone, as long as the application runs.</summary>
public sealed class WorkKeeper(IServiceScopeFactory scopes, ILogger<WorkKeeper> log) : BackgroundService
{
    private static readonly TimeSpan s_every = TimeSpan.FromSeconds(10);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_every);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<WorkBook>().FindAsync(stoppingToken);
            }
            catch (Exception problem) when (!stoppingToken.IsCancellationRequested)
            {
                // One look that failed, whatever the reason, must not be the last.
                log.LogWarning("Lost work could not be looked for: {Problem}", problem.Message);
            }
        }
        while (await WaitAsync(timer, stoppingToken));
    }

    /// <summary>Waits for the next round; false where the application ends.</summary>
    internal static async Task<bool> WaitAsync(PeriodicTimer timer, CancellationToken stop)
    {
        try
        {
            return await timer.WaitForNextTickAsync(stop);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }
}
