using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Jobs;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Uploading;

/// <summary>Files that are on their way in: where their bytes lie, how many are here, and how they are forgotten.</summary>
public sealed class ArrivingFiles(LyroContext database, FileStore store, UploadWriters writers)
{
    // For so long after the last byte the rest of an upload has its room kept.
    private static readonly TimeSpan s_kept = TimeSpan.FromHours(1);

    /// <summary>Where the bytes of an upload lie.</summary>
    public string PathOf(Guid id) => Path.Combine(store.Incoming, id.ToString("N"));

    /// <summary>Bytes of an upload that are here.</summary>
    public long Arrived(Upload upload) => File.Exists(PathOf(upload.Id)) ? new FileInfo(PathOf(upload.Id)).Length : 0;

    /// <summary>When bytes of an upload last came.</summary>
    public DateTimeOffset LastCame(Upload upload) => File.Exists(PathOf(upload.Id)) ? new DateTimeOffset(File.GetLastWriteTimeUtc(PathOf(upload.Id)), TimeSpan.Zero) : upload.At;

    /// <summary>Bytes that were announced and have not arrived, of what came on lately: who announces and sends nothing keeps no room.</summary>
    public async Task<long> AnnouncedAsync(CancellationToken stop)
    {
        var arriving = await database.Uploads.AsNoTracking().Where(u => database.Batches.Any(b => b.Id == u.BatchId && b.State == WorkState.Receiving)).ToListAsync(stop);
        return arriving.Where(u => DateTimeOffset.UtcNow - LastCame(u) < s_kept).Sum(u => Math.Max(0, u.Length - Arrived(u)));
    }

    /// <summary>Stops batches: what is at work is asked to, and files that were still arriving, or could not be read, are forgotten.</summary>
    public async Task ForgetAsync(IQueryable<IntakeBatch> batches, CancellationToken stop)
    {
        var left = await batches.Where(b => b.State == WorkState.Receiving || b.State == WorkState.Failed).Select(b => b.Id).ToListAsync(stop);
        await WorkBook.StopAsync(batches, stop);
        await database.Batches.Where(b => left.Contains(b.Id) && b.State == WorkState.Failed).ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Stopped), stop);
        var uploads = await database.Uploads.Where(u => left.Contains(u.BatchId)).ToListAsync(stop);
        await writers.EndAsync(uploads.Select(u => u.Id), stop);
        foreach (var upload in uploads)
        {
            File.Delete(PathOf(upload.Id));
            database.Uploads.Remove(upload);
        }

        await database.SaveChangesAsync(stop);
    }
}
