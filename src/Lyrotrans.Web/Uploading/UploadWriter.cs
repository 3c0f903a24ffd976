namespace Lyrotrans.Web.Uploading;

/// <summary>A connection that writes an upload.</summary>
/// <param name="leave">Called once, when it has let go.</param>
public sealed class UploadWriter(Action<UploadWriter> leave) : IDisposable
{
    private readonly CancellationTokenSource _ended = new();
    private readonly TaskCompletionSource _left = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Cancelled where it has to let go.</summary>
    public CancellationToken Ended => _ended.Token;

    /// <summary>Lets go.</summary>
    public void Dispose()
    {
        if (_left.TrySetResult())
        {
            leave(this);
            _ended.Dispose();
        }
    }

    internal async Task EndAsync(CancellationToken stop)
    {
        try
        {
            await _ended.CancelAsync();
        }
        catch (ObjectDisposedException)
        {
            // It let go by itself just now.
        }

        await _left.Task.WaitAsync(stop);
    }
}
