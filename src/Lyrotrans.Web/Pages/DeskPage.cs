using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>A stage of a transfer: opens the desk before anything else, and knows undo, redo and old revisions.</summary>
public abstract class DeskPage(DeskLoader desks, LyroContext database, RevisionLog revisions) : PageModel
{
    public Desk Desk { get; private set; } = null!;

    public IReadOnlyList<Stage> Stages { get; private set; } = [];

    public IReadOnlyList<Revision> Revisions { get; private set; } = [];

    /// <summary>The stage's own keys: key and what it does.</summary>
    public virtual IReadOnlyList<(string Key, string Does)> Keys => [];

    public abstract string StageName { get; }

    protected DeskLoader Desks { get; } = desks;

    protected LyroContext Database { get; } = database;

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (Guid.TryParse(RouteData.Values["id"]?.ToString(), out var asked) && HttpMethods.IsGet(Request.Method)
            && await BriefAsync(Request.Query["handler"].ToString(), asked, HttpContext.RequestAborted) is { } brief)
        {
            context.Result = brief;
            return;
        }

        if (!Guid.TryParse(RouteData.Values["id"]?.ToString(), out var id) || await Desks.OpenAsync(User, id, HttpContext.RequestAborted) is not { } desk)
        {
            context.Result = NotFound();
            return;
        }

        Desk = desk;
        await LoadFrameAsync();
        try
        {
            await next();
        }
        catch (RevisionConflictException problem)
        {
            context.Result = new ConflictObjectResult(problem.Message);
        }
    }

    public async Task<IActionResult> OnPostUndoAsync(int from, CancellationToken stop)
    {
        await revisions.UndoAsync(Desk.Id, from, stop);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostRedoAsync(int from, CancellationToken stop)
    {
        await revisions.RedoAsync(Desk.Id, from, stop);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostOpenRevisionAsync(int from, int number, CancellationToken stop)
    {
        await revisions.OpenAsync(Desk.Id, from, number, stop);
        return RedirectToPage();
    }

    /// <summary>Keeps a changed preparation, and goes on to another page or loads this one again.</summary>
    /// <param name="from">The revision that the change was made on.</param>
    /// <param name="next">The stage to go on to; none stays.</param>
    protected async Task<IActionResult> PrepareAsync(int from, string words, Preparation changed, CancellationToken stop, string? next = null)
    {
        if (from != Desk.Revision?.Number)
        {
            return new ConflictObjectResult("The transfer was changed in the meantime. Load the page again.");
        }

        if (changed != Desk.Preparation)
        {
            await Desks.CommitAsync(Desk, words, preparation: changed, stop: stop);
        }

        Response.Headers[next is null ? "HX-Refresh" : "HX-Redirect"] = next is null ? "true" : $"/transfers/{Desk.Id}/{next}";
        return new NoContentResult();
    }

    /// <summary>What a page that waits asks again and again, answered without opening the desk; null where there is more to show than how far the work is.</summary>
    protected virtual Task<IActionResult?> BriefAsync(string handler, Guid transfer, CancellationToken stop) => Task.FromResult<IActionResult?>(null);

    /// <summary>Opens the desk again after a change, for the answer that shows it.</summary>
    protected async Task ReloadAsync()
    {
        Desk = (await Desks.OpenAsync(User, Desk.Id, HttpContext.RequestAborted))!;
        await LoadFrameAsync();
    }

    private async Task LoadFrameAsync()
    {
        var stop = HttpContext.RequestAborted;
        Revisions = await Database.Revisions.AsNoTracking().Where(r => r.TransferId == Desk.Id).OrderByDescending(r => r.Number).Take(200).ToListAsync(stop);
        var build = await Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id).OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
        Stages = MakeStages(build);
    }

    private List<Stage> MakeStages(PackageBuild? build)
    {
        var bad = Desk.Intake.Items.Count(i => i.Error is not null) + Desk.Session.Media.Count(m => m.Place == Core.Sessions.MediaPlace.Missing) + Desks.Joined(Desk).RateDoubts.Count;
        var flags = Desks.Flags(Desk).Count;
        var going = Desk.Preparation.Tracks.Count(t => t.Treatment != Treatment.HoldBack);
        var files = Desk.IsEmpty ? 0 : Desks.Plan(Desk).Files.Count;
        var at = $"/transfers/{Desk.Id}";
        return
        [
            new("Intake", $"{at}/intake", Desk.IsEmpty ? "nothing brought in" : bad > 0 ? $"{Phrases.Count(Desk.Intake.Items.Count, "file")}, {bad} to look at" : Phrases.Count(Desk.Intake.Items.Count, "file"), bad > 0, !Desk.IsEmpty),
            new("Survey", $"{at}/survey", Desk.IsEmpty ? "nothing yet" : flags > 0 ? $"{Phrases.Count(flags, "flag")} open" : "no flags", flags > 0, !Desk.IsEmpty),
            new("Prepare", $"{at}/prepare", Desk.IsEmpty ? "nothing yet" : $"{going} of {Phrases.Count(Desk.Session.Tracks.Count, "track")} go", false, !Desk.IsEmpty),
            new("Build", $"{at}/build", Desk.IsEmpty ? "nothing yet" : build?.State is WorkState.Working or WorkState.Waiting ? "at work" : build?.State == WorkState.Failed ? "last one failed" : $"{Phrases.Count(files, "file")} to write", build?.State == WorkState.Failed, build?.State == WorkState.Done),
            new("Proof", $"{at}/proof", build?.Verdict is null ? "not proved yet" : $"{(build.Passed ? "passed" : "failed")}, revision {build.Revision}", build is { Verdict: not null, Passed: false }, build?.Passed ?? false),
            new("Handover", $"{at}/handover", build?.State == WorkState.Done ? "a package is ready" : "no package yet", false, false),
        ];
    }

}
