using Lyrotrans.Storage;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Links;
using Lyrotrans.Workflow.Rehearsing;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Rehearsing;

/// <summary>Reads packages back.</summary>
public sealed class Rehearsals(LyroContext database, PackageStore packages, DeskLoader desks, FileStore files) : IRehearsals
{
    public async Task<string> ReadAsync(Guid run, WorkPulse pulse)
    {
        var row = await database.RehearsalRuns.SingleAsync(r => r.Id == run, pulse.Stop);
        var build = await database.Builds.AsNoTracking().SingleAsync(b => b.Id == row.BuildId, pulse.Stop);
        var package = packages.ToCompare(build);
        var folder = Path.Combine(files.Scratch, $"{run:N}.rehearsed");
        LaidFiles.Clear(folder);
        try
        {
            pulse.Report(new WorkProgress(0, "reading the package"));
            var rehearsal = Rehearsal.Of(package.Files, (await desks.PlanAsync(build, pulse.Stop)).Plan, RehearsalDesk.LimitsOf(row), folder, pulse.Stop);
            var report = rehearsal.Report(pulse.Report, pulse.Stop);
            (row.IsSame, row.Report) = (report.IsSame, RehearsalDesk.Kept(report));
            await database.SaveChangesAsync(pulse.Stop);
            return report.Verdict;
        }
        finally
        {
            LaidFiles.Clear(folder);
        }
    }
}
