using System.Collections.Concurrent;

namespace Lyrotrans.Web.Uploading;

/// <summary>Which connection writes which upload: one at a time, and none any more once the upload is finished or forgotten.</summary>
public sealed class UploadWriters
{
    private readonly ConcurrentDictionary<Guid, UploadWriter> _writers = new();

    /// <summary>Takes an upload for writing, until what is given is disposed; null where another connection has it.</summary>
    public UploadWriter? TryTake(Guid upload)
    {
        var writer = new UploadWriter(w => _writers.TryRemove(KeyValuePair.Create(upload, w)));
        if (_writers.TryAdd(upload, writer))
        {
            return writer;
        }

        writer.Dispose();
        return null;
    }

    /// <summary>Ends the connections that write these, and waits until they have let go.</summary>
    public async Task EndAsync(IEnumerable<Guid> uploads, CancellationToken stop)
    {
        foreach (var upload in uploads)
        {
            if (_writers.TryGetValue(upload, out var writer))
            {
                await writer.EndAsync(stop);
            }
        }
    }
}
