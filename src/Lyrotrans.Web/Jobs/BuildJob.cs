using Hangfire;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Keys;
using Lyrotrans.Workflow.Delivering;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Builds a revision's package and proves it. A killed build starts again; a package that was not proved is never kept.</summary>
public sealed class BuildJob(LyroContext database, IDbContextFactory<LyroContext> contexts, DeskLoader desks, PackageStore packages, RoomClaims claims, RoomKeys keys, IBackgroundJobClient jobs, ILogger<BuildJob> log)
{
    [AutomaticRetry(Attempts = 0)]
    public async Task RunAsync(Guid buildId)
    {
        await WorkRunner.RunAsync(new WorkRow<PackageBuild>(contexts, buildId, "stopped; no package was left", log), pulse => BuildAsync(buildId, pulse));
        if (packages.Kept(buildId) is not null)
        {
            // Nobody waits for them.
            jobs.Enqueue<MarksJob>(job => job.RunAsync(buildId, CancellationToken.None));
        }
    }

    private async Task<string> BuildAsync(Guid id, WorkPulse pulse)
    {
        var build = await database.Builds.SingleAsync(b => b.Id == id, pulse.Stop);
        var (plan, room) = await desks.PlanAsync(build, pulse.Stop);
        await ClaimAsync(id, room.RoomId, plan.Bytes, pulse.Stop);
        var before = build.FollowsId is { } follows ? Before(follows) : null;
        var maker = new PackageMaker(before?.Manifest.Stamp!.Made ?? build.At, await keys.OfAsync(room.RoomId, pulse.Stop));
        using var made = ProvedPackage.Make(plan, new StoredMedia(room), maker, await keys.KnownAsync(room.RoomId, pulse.Stop), pulse.Report, pulse.Stop);
        await ClaimAsync(id, room.RoomId, made.Bytes - plan.Bytes, pulse.Stop);
        try
        {
            var list = before is null ? null : await FollowUpAsync(build, before, made, pulse.Stop);
            var sent = list is null ? null : FollowUpPackage.Of(list, made.Package.Contents, maker.Key);
            packages.Keep(id, made.Package, made.Proof, made.Levels, sent);
            (build.FileName, build.Bytes, build.ManifestSha256) = (sent is null ? made.FileName : $"{plan.Root}_follow_up.zip", sent is null ? made.Bytes : packages.Sent(build)!.Zip.Length, made.ManifestSha256);
            (build.Verdict, build.Passed, build.FinishedAt) = (made.Report.Verdict, made.Report.Passed, DateTimeOffset.UtcNow);

            // What is kept is done: a stop that comes now is too late for it.
            await database.SaveChangesAsync(CancellationToken.None);
            return list?.Words ?? Phrases.Count(made.Manifest.Files.Count, "file");
        }
        catch
        {
            packages.Remove(id);
            throw;
        }
    }

    // What nobody knows how it was dated cannot be made again to the byte.
    private KeptPackage Before(Guid follows) => packages.Kept(follows) is { Manifest.Stamp: not null } before ? before
        : throw new BadInputException(FollowingCodes.CannotFollow, string.Empty, string.Empty, "The package that this one should follow is not kept any more, or an earlier version made it.", "Build a whole package.");

    private async Task<FollowUp> FollowUpAsync(PackageBuild build, KeptPackage before, ProvedPackage made, CancellationToken stop)
    {
        var earlier = await database.Builds.AsNoTracking().SingleAsync(b => b.Id == build.FollowsId, stop);
        var files = FollowUp.Compare((before.Manifest, [.. before.Files.Select(f => (f.Path, f.Bytes, f.Sha256))]), (made.Manifest, [.. made.Package.Contents.Files.Select(f => (f.Path, f.Bytes, f.Sha256))]));
        return new FollowUp(earlier.ManifestSha256!, earlier.Revision, made.ManifestSha256, build.At, files);
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
