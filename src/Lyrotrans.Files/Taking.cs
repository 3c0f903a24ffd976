using Lyrotrans.Core.Storing;

namespace Lyrotrans.Files;

/// <summary>Takes local files into a room's store.</summary>
public static class Taking
{
    /// <summary>Takes a finished local file, which is gone from its place then, and says its SHA-256.</summary>
    public static async Task<string> TakeAsync(this IMediaStore store, string path, CancellationToken stop)
    {
        var sha256 = await FileHash.OfAsync(path, stop);
        await store.TakeAsync(path, sha256, stop);
        return sha256;
    }
}
