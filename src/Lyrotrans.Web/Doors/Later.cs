using System.Threading.Channels;

namespace Lyrotrans.Web.Doors;

/// <summary>
/// Does what no answer must wait for: how long one takes, or any other beside which it is done, would tell who has an account. So each begins at a
/// time that nobody can foresee. What is waiting when the application ends is done before it ends, within the time that a host gives; a kill loses it.
/// </summary>
public sealed class Later(IServiceScopeFactory scopes, ILogger<Later> log) : IHostedService
{
    // A slow mail server holds up three letters, not the rooms' logs behind them.
    private const int AtOnce = 4;
    private const int MostWaiting = 10_000;
    private static readonly TimeSpan s_within = TimeSpan.FromSeconds(2);
    private readonly Channel<(Func<IServiceProvider, Task> Work, long Due)> _waiting = Channel.CreateBounded<(Func<IServiceProvider, Task>, long)>(MostWaiting);
    private readonly TaskCompletionSource _ending = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private Task _workers = Task.CompletedTask;

    /// <summary>Takes something to be done soon, with services of its own. What no room is left for is said in the log and not done.</summary>
    public void Do(Func<IServiceProvider, Task> work)
    {
        var due = Environment.TickCount64 + Random.Shared.NextInt64((long)s_within.TotalMilliseconds);
        if (!_waiting.Writer.TryWrite((work, due)))
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
    /// <remarks>May be asked for twice, and after a start that failed. Ends when the last one that waits is done; a background service would end before it begins where both are asked for at once.</remarks>
    public async Task StopAsync(CancellationToken cancellationToken)
    {
        _waiting.Writer.TryComplete();
        _ending.TrySetResult();
        await _workers.WaitAsync(cancellationToken);
    }

    private async Task WorkAsync()
    {
        await foreach (var (work, due) in _waiting.Reader.ReadAllAsync())
        {
            // Whoever comes behind one that is not due waits with it, and never longer than one of that moment could: where many wait, all are due.
            await Task.WhenAny(_ending.Task, Task.Delay(TimeSpan.FromMilliseconds(Math.Max(0, due - Environment.TickCount64))));
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
