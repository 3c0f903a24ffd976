namespace Lyrotrans.Workflow.Running;

/// <summary>
/// What work reports to. Passes progress on a few times a second, beats on while nothing is reported, and asks each time whether the work should stop: so
/// work that lives can be told from work whose process is gone, and a stop is heard however long a step takes.
/// </summary>
public sealed class WorkPulse : IDisposable
{
    /// <summary>The longest time between two beats of work that lives.</summary>
    public static readonly TimeSpan Slowest = TimeSpan.FromSeconds(3);

    private static readonly TimeSpan s_fastest = TimeSpan.FromMilliseconds(300);
    private readonly Func<WorkProgress, bool> _beat;
    private readonly CancellationTokenSource _stop;
    private readonly Timer _timer;
    private readonly Lock _lock = new();
    private WorkProgress _progress = new(0, string.Empty);
    private long _last = Environment.TickCount64;
    private bool _ended;

    /// <param name="beat">Keeps how far it is and says whether to stop.</param>
    /// <param name="stop">Stops the work as well.</param>
    public WorkPulse(Func<WorkProgress, bool> beat, CancellationToken stop = default)
    {
        _beat = beat;
        _stop = CancellationTokenSource.CreateLinkedTokenSource(stop);
        _timer = new Timer(_ => Beat(), null, Slowest, Slowest);
    }

    /// <summary>Cancelled when the work should stop.</summary>
    public CancellationToken Stop => _stop.Token;

    /// <summary>From any thread.</summary>
    public void Report(WorkProgress progress)
    {
        lock (_lock)
        {
            _progress = progress;
            if (Environment.TickCount64 - _last >= s_fastest.TotalMilliseconds)
            {
                BeatNow();
            }
        }
    }

    /// <summary>No beat comes after this.</summary>
    public void Dispose()
    {
        lock (_lock)
        {
            _ended = true;
        }

        _timer.Dispose();
        _stop.Dispose();
    }

    private void Beat()
    {
        lock (_lock)
        {
            BeatNow();
        }
    }

    private void BeatNow()
    {
        if (_ended)
        {
            return;
        }

        _last = Environment.TickCount64;
        if (_beat(_progress))
        {
            _stop.Cancel();
        }
    }
}
