using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Incoming;

/// <summary>Files that are on their way in: where their bytes lie, how many are here, and how many still come.</summary>
public sealed class ArrivingFiles(LyroContext database, FileStore store)
{
    // For so long after the last byte the rest of an upload has its room kept.
    private static readonly TimeSpan s_kept = TimeSpan.FromHours(1);

    /// <summary>Where the bytes of an upload lie.</summary>
    public string PathOf(Guid id) => Path.Combine(store.Incoming, id.ToString("N"));

    /// <summary>Bytes of an upload that are here.</summary>
    public long Arrived(Upload upload) => File.Exists(PathOf(upload.Id)) ? new FileInfo(PathOf(upload.Id)).Length : 0;

    /// <summary>When bytes of an upload last came.</summary>
    public DateTimeOffset LastCame(Upload upload) => File.Exists(PathOf(upload.Id)) ? new DateTimeOffset(File.GetLastWriteTimeUtc(PathOf(upload.Id)), TimeSpan.Zero) : upload.At;

    /// <summary>Bytes of files of such batches that are here and not taken in yet.</summary>
    public async Task<long> HereAsync(IQueryable<IntakeBatch> batches, CancellationToken stop) =>
        (await OfAsync(batches.Where(b => b.State != WorkState.Done && b.State != WorkState.Stopped), stop)).Sum(Arrived);

    /// <summary>Bytes that were announced for such batches and have not arrived, of what came on lately: who announces and sends nothing keeps no room.</summary>
    public async Task<long> AnnouncedAsync(IQueryable<IntakeBatch> batches, CancellationToken stop)
    {
        // Of what is read already nothing comes any more.
        var coming = await OfAsync(batches.Where(b => b.State == WorkState.Receiving), stop);
        return coming.Where(u => DateTimeOffset.UtcNow - LastCame(u) < s_kept).Sum(u => Math.Max(0, u.Length - Arrived(u)));
    }

    private Task<List<Upload>> OfAsync(IQueryable<IntakeBatch> batches, CancellationToken stop) =>
        database.Uploads.AsNoTracking().Where(u => batches.Any(b => b.Id == u.BatchId)).ToListAsync(stop);
}
