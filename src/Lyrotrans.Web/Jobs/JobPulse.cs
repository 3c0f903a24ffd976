using System.Diagnostics;

namespace Lyrotrans.Web.Jobs;

/// <summary>Passes progress on at most a few times a second, and asks then whether the work should stop.</summary>
public sealed class JobPulse(Func<Workflow.WorkProgress, bool> beat) : IDisposable
{
    private static readonly TimeSpan s_every = TimeSpan.FromMilliseconds(300);
    private readonly CancellationTokenSource _stop = new();
    private readonly Stopwatch _since = Stopwatch.StartNew();
    private readonly Lock _lock = new();

    public CancellationToken Stop => _stop.Token;

    public void Report(Workflow.WorkProgress progress)
    {
        lock (_lock)
        {
            if (_since.Elapsed < s_every)
            {
                return;
            }

            _since.Restart();
            if (beat(progress))
            {
                _stop.Cancel();
            }
        }
    }

    public void Dispose() => _stop.Dispose();
}
