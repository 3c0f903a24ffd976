using System.Threading.Channels;

namespace Lyrotrans.Web.Doors;

/// <summary>
/// Does what an answer must not wait for, nor the next answer on the same connection: how long either takes would tell who has an account.
/// What is waiting when the application ends is done before it ends, within the time that a host gives; a kill loses it.
/// </summary>
public sealed class Later(IServiceScopeFactory scopes, ILogger<Later> log) : IHostedService
{
    // A slow mail server holds up three letters, not the rooms' logs behind them.
    private const int AtOnce = 4;
    private const int MostWaiting = 10_000;
    private readonly Channel<Func<IServiceProvider, Task>> _waiting = Channel.CreateBounded<Func<IServiceProvider, Task>>(MostWaiting);
    private Task _workers = Task.CompletedTask;

    /// <summary>Takes something to be done soon, with services of its own. What no room is left for is said in the log and not done.</summary>
    public void Do(Func<IServiceProvider, Task> work)
    {
        if (!_waiting.Writer.TryWrite(work))
        {
            log.LogError("{Most} letters and lines of rooms' logs are waiting already; one more was left out", MostWaiting);
        }
    }

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken)
    {
        _workers = Task.WhenAll(Enumerable.Range(0, AtOnce).Select(_ => Task.Run(WorkAsync, CancellationToken.None)));
        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    /// <remarks>Ends when the last one that waits is done; a background service would end before it begins where both are asked for at once.</remarks>
    public Task StopAsync(CancellationToken cancellationToken)
    {
        _waiting.Writer.TryComplete();
        return _workers.WaitAsync(cancellationToken);
    }

    private async Task WorkAsync()
    {
        await foreach (var work in _waiting.Reader.ReadAllAsync())
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await work(scope.ServiceProvider);
            }
            catch (Exception problem)
            {
                // One that failed, whatever the reason, must not be the last.
                log.LogError(problem, "What was to be done after an answer failed");
            }
        }
    }
}
