using System.Text.Json;
using Hangfire;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Jobs;

/// <summary>Builds a revision's package and proves it. A killed build starts again; a half package is never offered.</summary>
public sealed class BuildJob(LyroContext database, DeskLoader desks, Settings settings, WorkRunner runner)
{
    [AutomaticRetry(Attempts = 1)]
    public async Task RunAsync(Guid buildId)
    {
        var build = await database.Builds.SingleAsync(b => b.Id == buildId);
        await runner.RunAsync(database.Builds, build, "stopped; no package was left", pulse => BuildOrLeaveNothingAsync(build, pulse));
        build.FinishedAt ??= DateTimeOffset.UtcNow;
        await database.SaveChangesAsync();
    }

    /// <summary>Where a build's package lies.</summary>
    public static string PackagePath(Settings settings, Guid build) => Path.Combine(settings.PackageFolder, $"{build:N}.zip");

    /// <summary>Where a build's proof lies.</summary>
    public static string ProofPath(Settings settings, Guid build) => Path.Combine(settings.PackageFolder, $"{build:N}.proof.json");

    /// <summary>Where the levels of a build's sound files lie.</summary>
    public static string LevelsPath(Settings settings, Guid build) => Path.Combine(settings.PackageFolder, $"{build:N}.levels.json");

    /// <summary>A package that was not proved to the end is not kept: what is stopped in the proof leaves as little as what is stopped before it.</summary>
    private async Task BuildOrLeaveNothingAsync(PackageBuild build, JobPulse pulse)
    {
        try
        {
            await BuildAsync(build, pulse);
        }
        catch
        {
            foreach (var path in new[] { PackagePath(settings, build.Id), ProofPath(settings, build.Id), LevelsPath(settings, build.Id) })
            {
                File.Delete(path);
            }

            (build.FileName, build.Bytes, build.Sha256) = (null, 0, null);
            throw;
        }
    }

    private async Task BuildAsync(PackageBuild build, JobPulse pulse)
    {
        var (plan, room) = await desks.PlanAsync(build, pulse.Stop);
        var media = new StoredMedia(room);
        var path = PackagePath(settings, build.Id);
        var manifest = PackageFile.Build(plan, media, path, build.At, p => pulse.Report(p with { Fraction = p.Fraction * 0.55 }), pulse.Stop);
        build.FileName = $"{plan.Root}.zip";
        build.Bytes = new FileInfo(path).Length;
        await using (var stream = File.OpenRead(path))
        {
            build.Sha256 = Convert.ToHexStringLower(await System.Security.Cryptography.SHA256.HashDataAsync(stream, pulse.Stop));
        }

        var report = PackageProof.Prove(path, build.FileName, plan, media, p => pulse.Report(new WorkProgress(0.6 + (p.Fraction * 0.3), $"proof: {p.Doing}")), pulse.Stop);
        await File.WriteAllBytesAsync(ProofPath(settings, build.Id), JsonSerializer.SerializeToUtf8Bytes(report, ProofJson.Options), pulse.Stop);
        pulse.Report(new WorkProgress(0.92, "measuring levels"));
        await File.WriteAllBytesAsync(LevelsPath(settings, build.Id), LevelFiles.Write(PackageLevels.Measure(path, plan, media.Scratch, pulse.Stop)), pulse.Stop);
        build.Verdict = report.Verdict;
        build.Passed = report.Passed;
        build.Doing = $"{manifest.Files.Count} files";
    }
}
