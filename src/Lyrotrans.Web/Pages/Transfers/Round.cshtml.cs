using Lyrotrans.Core.Delivering;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The listening round: every sound file of a package, one after the other, with what people say of each.</summary>
public sealed class RoundModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, PackageStore packages, TimeProvider clock) : DeskPage(desks, database, revisions)
{
    private const int LongestWords = 500;

    public override string StageName => "Handover";

    public override IReadOnlyList<(string Key, string Does)> Keys =>
        [("a", "listen, stop"), ("h", "heard, and on"), ("f", "fault here"), ("n b", "next file, file before"), ("s", "delivered, session, difference"), ("j", "next place to hear"), ("← →", "five seconds back, on")];

    /// <summary>Null where there is no package.</summary>
    public PackageBuild? Build { get; private set; }

    /// <summary>The sound files of the package that it made itself, in its order.</summary>
    public IReadOnlyList<(ReceivedFile File, PlannedFile Planned)> Files { get; private set; } = [];

    /// <summary>What was said of the package's files, the newest first.</summary>
    public IReadOnlyList<HeardMark> Marks { get; private set; } = [];

    /// <summary>What was said of a file.</summary>
    public IEnumerable<HeardMark> Of(ReceivedFile file) => Marks.Where(m => m.Path == file.File.Path);

    public Task OnGetAsync(Guid? build, CancellationToken stop) => LoadAsync(build, stop);

    /// <summary>Says of a file that it was heard, or what is wrong where.</summary>
    public async Task<IActionResult> OnPostSayAsync(Guid build, string path, string what, long sample, string? words, CancellationToken stop)
    {
        await LoadAsync(build, stop);
        if (Files.FirstOrDefault(f => f.File.File.Path == path) is not { File: { } file })
        {
            return BadRequest("There is no such file in the package. Load the page again.");
        }

        var kind = what == "fault" ? HeardKind.Fault : HeardKind.Heard;
        Database.HeardMarks.Add(new HeardMark
        {
            BuildId = Build!.Id,
            Path = path,
            Kind = kind,
            Sample = kind == HeardKind.Fault ? Math.Clamp(sample, 0, file.Samples) : 0,
            Words = Shown.Line((words ?? string.Empty).Trim(), LongestWords),
            By = Desk.Engineer.Name,
            At = clock.GetUtcNow(),
        });
        await Database.SaveChangesAsync(stop);
        return await ShownAgainAsync(stop);
    }

    /// <summary>Takes back what was said.</summary>
    public async Task<IActionResult> OnPostTakeBackAsync(Guid build, long mark, CancellationToken stop)
    {
        await LoadAsync(build, stop);
        if (Build is { } here)
        {
            await Database.HeardMarks.Where(m => m.Id == mark && m.BuildId == here.Id).ExecuteDeleteAsync(stop);
        }

        return await ShownAgainAsync(stop);
    }

    private async Task<IActionResult> ShownAgainAsync(CancellationToken stop)
    {
        await LoadMarksAsync(stop);
        return Part("_Heard");
    }

    private async Task LoadAsync(Guid? build, CancellationToken stop)
    {
        var mine = access.Builds(Desk.Engineer.Id).Where(b => b.TransferId == Desk.Id && b.State == WorkState.Done);
        Build = build is { } id ? await mine.SingleOrDefaultAsync(b => b.Id == id, stop) : await Builds.FirstOrDefaultAsync(b => b.State == WorkState.Done, stop);
        if (Build is null || packages.Kept(Build.Id) is not { } package)
        {
            Build = null;
            return;
        }

        var (plan, _) = await Desks.PlanAsync(Build, stop);
        var planned = plan.Files.Where(f => f.IsSound).ToDictionary(f => f.Path);
        Files = [.. ReceivedFiles.Of(package, plan).Where(f => planned.ContainsKey(f.File.Path)).Select(f => (f, planned[f.File.Path]))];
        await LoadMarksAsync(stop);
    }

    private async Task LoadMarksAsync(CancellationToken stop) =>
        Marks = Build is { } build ? await Database.HeardMarks.AsNoTracking().Where(m => m.BuildId == build.Id).OrderByDescending(m => m.Id).ToListAsync(stop) : [];

    /// <summary>How far the round is, in words.</summary>
    public string Words => HeardWords.Of([.. Files.Select(f => f.File.File.Path)], Marks);
}
