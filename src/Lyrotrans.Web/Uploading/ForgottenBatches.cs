using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Jobs;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Uploading;

/// <summary>Batches that nobody goes on with.</summary>
public sealed class ForgottenBatches(LyroContext database, ArrivingFiles files, UploadWriters writers)
{
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
            File.Delete(files.PathOf(upload.Id));
            database.Uploads.Remove(upload);
        }

        await database.SaveChangesAsync(stop);
    }
}
