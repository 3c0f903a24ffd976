using Lyrotrans.Workflow.Packing;
using System.Security.Cryptography;
using Hangfire;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Handing;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Puts a package into a folder that the operator allows, and looks at it there again when somebody asks.</summary>
public sealed class FolderJob(LyroContext database, IDbContextFactory<LyroContext> contexts, PackageStore packages, Settings settings, TimeProvider clock, ILogger<FolderJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid id) => WorkRunner.RunAsync(new WorkRow<FolderDelivery>(contexts, id, "stopped; nothing was left in the folder", log), pulse => WorkAsync(id, pulse));

    /// <summary>The folder that a delivery goes into; made where it is a receiver's own and is not there yet.</summary>
    /// <exception cref="BadInputException">The operator allows no such folder any more, it is not there, or it leads out of what is allowed.</exception>
    private string FolderOf(FolderDelivery delivery)
    {
        if (!settings.Folders.TryGetValue(delivery.Place, out var root) || !Directory.Exists(root))
        {
            throw new BadInputException(HandingCodes.NoFolder, delivery.Place, string.Empty, "This folder of the server is not there.", "Ask the operator whether it is mounted.");
        }

        if (delivery.Within.Length == 0)
        {
            return root;
        }

        var folder = Path.Combine(root, delivery.Within);
        if (Path.GetFileName(delivery.Within) != delivery.Within || delivery.Within is "." or ".." || new DirectoryInfo(folder).LinkTarget is not null)
        {
            throw new BadInputException(HandingCodes.NoFolder, delivery.Within, string.Empty, $"This leads out of {delivery.Place}.", "Choose another name for the receiver's folder.");
        }

        return Directory.CreateDirectory(folder).FullName;
    }

    private async Task<string> WorkAsync(Guid id, WorkPulse pulse)
    {
        var delivery = await database.FolderDeliveries.SingleAsync(d => d.Id == id, pulse.Stop);
        var package = packages.Sent(await database.Builds.AsNoTracking().SingleAsync(b => b.Id == delivery.BuildId, pulse.Stop)) ?? throw new BadInputException(HandingCodes.NoFolder, delivery.Name, string.Empty, "The package is not kept any more.", "Build it again.");
        IReadOnlyList<KeptFile> files = delivery.IsZip
            ? [new KeptFile(delivery.Name, package.Zip.Length, await SumAsync(package.Zip, pulse.Stop), package.Zip)]
            : [.. package.Files.Select(f => f with { Path = f.Path[package.Folder.Length..] })];
        var folder = FolderOf(delivery);
        var (whole, words) = delivery.CheckedAt is not null ? FolderHandover.Check(files, folder, delivery.Name, pulse.Report, pulse.Stop) : Put(files, folder, delivery.Name, pulse);
        (delivery.IsThere, delivery.Found, delivery.CheckedAt) = (whole, words, clock.GetUtcNow());
        await database.SaveChangesAsync(CancellationToken.None);
        return words;
    }

    private static (bool IsWhole, string Words) Put(IReadOnlyList<KeptFile> files, string folder, string name, WorkPulse pulse)
    {
        // A process that was killed after the rename and before it could say so left all of it there.
        if (Path.Exists(Path.Combine(folder, name)) && FolderHandover.Check(files, folder, name, pulse.Report, pulse.Stop) is { IsWhole: true } there)
        {
            return there;
        }

        FolderHandover.Put(files, folder, name, pulse.Report, pulse.Stop);
        return (true, $"{Core.Naming.Phrases.Count(files.Count, "file")} put there, read back and whole.");
    }

    // Of a zip that is put together while it is read.
    private static async Task<string> SumAsync(IStoredFile file, CancellationToken stop)
    {
        await using var stream = file.Open();
        return Convert.ToHexStringLower(await SHA256.HashDataAsync(stream, stop));
    }
}
