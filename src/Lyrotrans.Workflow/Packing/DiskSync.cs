using System.Runtime.ExceptionServices;
using Microsoft.Win32.SafeHandles;

namespace Lyrotrans.Workflow.Packing;

/// <summary>Lets the disk begin while the next bytes are made, so that little is left to wait for at the end. Can be used by several threads at once.</summary>
internal sealed class DiskSync
{
    private const long Every = 128 << 20;
    private readonly Lock _lock = new();
    private Task _work = Task.CompletedTask;
    private ExceptionDispatchInfo? _problem;
    private long _unsynced;

    /// <summary>Says that bytes were written to a file that stays open; now and then they are brought to the disk.</summary>
    public void Wrote(SafeFileHandle file, int bytes)
    {
        if (Interlocked.Add(ref _unsynced, bytes) > Every)
        {
            Interlocked.Exchange(ref _unsynced, 0);
            Then(() => Flush(file));
        }
    }

    /// <summary>Brings a file to its disk that is written to the end, and closes it.</summary>
    public void Close(SafeFileHandle file) => Then(() =>
    {
        using (file)
        {
            RandomAccess.FlushToDisk(file);
        }
    });

    /// <summary>Waits until all of it is done.</summary>
    /// <exception cref="IOException">The disk is full or cannot be written.</exception>
    public void Finish()
    {
        _work.Wait();
        _problem?.Throw();
    }

    // One after the other: a disk has one queue, and a file is closed after the last time that it is synced.
    private void Then(Action act)
    {
        lock (_lock)
        {
            _work = _work.ContinueWith(_ => Try(act), CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
        }
    }

    // What fails is said at the end; what comes after it is closed all the same.
    private void Try(Action act)
    {
        try
        {
            act();
        }
        catch (Exception problem)
        {
            _problem ??= ExceptionDispatchInfo.Capture(problem);
        }
    }

    private static void Flush(SafeFileHandle file)
    {
        // Whoever gives a file up closes it.
        if (!file.IsClosed)
        {
            RandomAccess.FlushToDisk(file);
        }
    }
}
