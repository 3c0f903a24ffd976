using System.Text.Json;
using Hangfire;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Builds a revision's package and proves it. A killed build starts again; a half package is never offered.</summary>
public sealed class BuildJob(LyroContext database, MediaStore store, DeskLoader desks, Settings settings, ILogger<BuildJob> log)
{
    [AutomaticRetry(Attempts = 1)]
    public async Task RunAsync(Guid buildId)
    {
        var build = await database.Builds.SingleAsync(b => b.Id == buildId);
        if (build.State is WorkState.Done or WorkState.Failed or WorkState.Stopped)
        {
            return;
        }

        if (build.StopAsked)
        {
            build.State = WorkState.Stopped;
            await database.SaveChangesAsync();
            return;
        }

        build.State = WorkState.Working;
        await database.SaveChangesAsync();
        using var pulse = new JobPulse(progress => Beat(buildId, progress));
        try
        {
            await BuildAsync(build, pulse);
            build.State = WorkState.Done;
        }
        catch (OperationCanceledException)
        {
            build.State = WorkState.Stopped;
            build.Doing = "stopped; no package was left";
        }
        catch (Exception problem) when (problem is IOException or BadInputException or UnauthorizedAccessException)
        {
            log.LogWarning(problem, "Build {Build} failed", buildId);
            build.State = WorkState.Failed;
            build.Error = problem.Message;
        }

        build.FinishedAt = DateTimeOffset.UtcNow;
        await database.SaveChangesAsync();
    }

    /// <summary>Where a build's package lies.</summary>
    public static string PackagePath(Settings settings, Guid build) => Path.Combine(settings.PackageFolder, $"{build:N}.zip");

    /// <summary>Where a build's proof lies.</summary>
    public static string ProofPath(Settings settings, Guid build) => Path.Combine(settings.PackageFolder, $"{build:N}.proof.json");

    private bool Beat(Guid buildId, WorkProgress progress)
    {
        database.Builds.Where(b => b.Id == buildId).ExecuteUpdate(b => b.SetProperty(x => x.Fraction, progress.Fraction).SetProperty(x => x.Doing, progress.Doing));
        return database.Builds.AsNoTracking().Where(b => b.Id == buildId).Select(b => b.StopAsked).Single();
    }

    private async Task BuildAsync(PackageBuild build, JobPulse pulse)
    {
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == build.TransferId && r.Number == build.Revision);
        var session = desks.SessionOf(revision.SessionSha);
        var plan = DeliveryPlan.Make(session, desks.PreparationOf(revision.PreparationSha), desks.Sounds(session));
        var media = new StoredMedia(store, store.Scratch);
        var path = PackagePath(settings, build.Id);
        var manifest = PackageFile.Build(plan, media, path, build.At, p => pulse.Report(p with { Fraction = p.Fraction * 0.6 }), pulse.Stop);
        build.FileName = $"{plan.Root}.zip";
        build.Bytes = new FileInfo(path).Length;
        await using (var stream = File.OpenRead(path))
        {
            build.Sha256 = Convert.ToHexStringLower(await System.Security.Cryptography.SHA256.HashDataAsync(stream, pulse.Stop));
        }

        var report = PackageProof.Prove(path, build.FileName, plan, media, p => pulse.Report(new WorkProgress(0.65 + (p.Fraction * 0.35), $"proof: {p.Doing}")), pulse.Stop);
        await File.WriteAllBytesAsync(ProofPath(settings, build.Id), JsonSerializer.SerializeToUtf8Bytes(report, ProofJson.Options), pulse.Stop);
        build.Verdict = report.Verdict;
        build.Passed = report.Passed;
        build.Fraction = 1;
        build.Doing = $"{manifest.Files.Count} files";
    }
}
