using Lyrotrans.Core.Errors;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>Holds what a receiver exported again to the package that his link opens. Nothing of it reaches the room, and what came for it is let go when it was compared or cannot be read.</summary>
public sealed class Arrivals(LyroContext database, ReturnDesk returns, LinkBook book, PackageStore packages, DeskLoader desks) : IArrivals
{
    private const string Brought = "brought";

    public async Task<string> CompareAsync(Guid check, WorkPulse pulse)
    {
        var row = await database.ArrivalChecks.SingleAsync(c => c.Id == check, pulse.Stop);
        var link = await database.Links.AsNoTracking().SingleAsync(l => l.Id == row.LinkId, pulse.Stop);
        var files = await database.ReturnedFiles.AsNoTracking().Where(f => f.CheckId == check && f.State == ReturnState.Here).OrderBy(f => f.At).ThenBy(f => f.Id).ToListAsync(pulse.Stop);
        if (ArrivalDesk.ReportOf(row) is { } made)
        {
            // Killed between its report and its end.
            await returns.RemoveAsync(row, CancellationToken.None);
            return made.Verdict;
        }

        var folder = Path.Combine(returns.FolderOf(link), $"{check:N}.compared");
        try
        {
            // What a process left that was killed in the middle.
            LaidFiles.Clear(folder);
            var words = await CompareAsync(row, link, files, folder, pulse);
            await returns.RemoveAsync(row, CancellationToken.None);
            return words;
        }
        catch (BadInputException problem)
        {
            var said = Without(problem, folder);
            await book.NoteByReceiverAsync(link, LinkEventKind.Checked, $"what was exported again: {said.Finding.Text}", CancellationToken.None);
            await returns.RemoveAsync(row, CancellationToken.None);
            throw said;
        }
        finally
        {
            LaidFiles.Clear(folder);
        }
    }

    private async Task<string> CompareAsync(ArrivalCheck row, PackageLink link, List<ReturnedFile> files, string folder, WorkPulse pulse)
    {
        var build = await database.Builds.AsNoTracking().SingleAsync(b => b.Id == link.BuildId, pulse.Stop);
        var package = packages.ToCompare(build);
        var (brought, scratch) = (Path.Combine(folder, Brought), Path.Combine(folder, "scratch"));
        Directory.CreateDirectory(scratch);
        pulse.Report(new WorkProgress(0, "reading what came"));
        var room = Math.Min(link.ReturnBytes, returns.Room);
        if (files.Sum(f => f.Length) > room)
        {
            throw new BadInputException(ArchiveCodes.NoRoom, row.What, string.Empty, "There is no room on the server to compare it now.", "Tell the sender.");
        }

        new LaidFiles(room).Lay(files, returns.PathOf, brought, pulse.Stop);
        var found = LoadedSide.Load(brought, scratch);
        pulse.Report(new WorkProgress(0.1, "reading what was sent"));
        var sent = SentPackage.Of(package.Files, (await desks.PlanAsync(build, pulse.Stop)).Plan, scratch, pulse.Stop);
        var report = Arrival.Compare(sent, found, p => pulse.Report(p with { Fraction = 0.2 + (0.8 * p.Fraction) }), pulse.Stop);
        (row.IsSame, row.Report) = (report.IsSame, ArrivalDesk.Kept(report));
        await database.SaveChangesAsync(pulse.Stop);
        await book.NoteByReceiverAsync(link, LinkEventKind.Checked, $"what was exported again, {row.What}: {report.Verdict}", CancellationToken.None);
        return report.Verdict;
    }

    // Where a server keeps its files is nobody's business.
    private static BadInputException Without(BadInputException problem, string folder)
    {
        string Shown(string text) => text.Replace(Path.Combine(folder, Brought) + Path.DirectorySeparatorChar, string.Empty, StringComparison.Ordinal).Replace(Path.Combine(folder, Brought), "What came", StringComparison.Ordinal).Replace(folder, string.Empty, StringComparison.Ordinal);
        return new BadInputException(problem.Code, Shown(problem.File), Shown(problem.Where), Shown(problem.Problem), Shown(problem.Remedy));
    }
}
