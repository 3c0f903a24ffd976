namespace Lyrotrans.Web.Jobs;

/// <summary>Does something when the application has begun, and again and again as long as it runs.</summary>
/// <param name="every">From one round to the next.</param>
/// <param name="failed">What to say of a round that failed, before its reason.</param>
/// <param name="scopes">Each round has services of its own.</param>
/// <param name="log">Gets the rounds that failed.</param>
public abstract class Rounds(TimeSpan every, string failed, IServiceScopeFactory scopes, ILogger log) : BackgroundService
{
    protected abstract Task RoundAsync(IServiceProvider services, CancellationToken stop);

    protected sealed override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(every);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await RoundAsync(scope.ServiceProvider, stoppingToken);
            }
            catch (Exception problem) when (!stoppingToken.IsCancellationRequested)
            {
                // One round that failed, whatever the reason, must not be the last.
                log.LogWarning("{What}: {Problem}", failed, problem.Message);
            }
        }
        while (await NextAsync(timer, stoppingToken));
    }

    // False where the application ends.
    private static async Task<bool> NextAsync(PeriodicTimer timer, CancellationToken stop)
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
