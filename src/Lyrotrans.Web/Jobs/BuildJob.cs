using Hangfire;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Keys;
using Lyrotrans.Workflow.Delivering;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Builds a revision's package and proves it. A killed build starts again; a package that was not proved is never kept.</summary>
public sealed class BuildJob(LyroContext database, IDbContextFactory<LyroContext> contexts, DeskLoader desks, PackageStore packages, RoomClaims claims, RoomKeys keys, ILogger<BuildJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public Task RunAsync(Guid buildId) =>
        WorkRunner.RunAsync(new WorkRow<PackageBuild>(contexts, buildId, "stopped; no package was left", log), pulse => BuildAsync(buildId, pulse));

    private async Task<string> BuildAsync(Guid id, WorkPulse pulse)
    {
        var build = await database.Builds.SingleAsync(b => b.Id == id, pulse.Stop);
        var (plan, room) = await desks.PlanAsync(build, pulse.Stop);
        await ClaimAsync(id, room.RoomId, plan.Bytes, pulse.Stop);
        var maker = new PackageMaker(build.At, await keys.OfAsync(room.RoomId, pulse.Stop));
        using var made = ProvedPackage.Make(plan, new StoredMedia(room), maker, await keys.KnownAsync(room.RoomId, pulse.Stop), pulse.Report, pulse.Stop);
        await ClaimAsync(id, room.RoomId, made.Bytes - plan.Bytes, pulse.Stop);
        try
        {
            packages.Keep(id, made.Package, made.Proof, made.Levels);
            (build.FileName, build.Bytes, build.ManifestSha256) = (made.FileName, made.Bytes, made.ManifestSha256);
            (build.Verdict, build.Passed, build.FinishedAt) = (made.Report.Verdict, made.Report.Passed, DateTimeOffset.UtcNow);

            // What is kept is done: a stop that comes now is too late for it.
            await database.SaveChangesAsync(CancellationToken.None);
        }
        catch
        {
            packages.Remove(id);
            throw;
        }

        return Phrases.Count(made.Manifest.Files.Count, "file");
    }

    // The page asked already, but others may have been given the space since, and it was a plan's then.
    private async Task ClaimAsync(Guid id, Guid room, long bytes, CancellationToken stop)
    {
        if (await claims.TryAsync(database.Builds, id, room, "The package", bytes, stop) is { } problem)
        {
            throw new NoRoomException(problem);
        }
    }
}
