using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
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

    /// <summary>Whether a part of a page is answered that stands there already, and not a whole page.</summary>
    public bool IsPart { get; private set; }

    protected DeskLoader Desks { get; } = desks;

    protected LyroContext Database { get; } = database;

    /// <summary>The receiver's builds, the newest first.</summary>
    protected IQueryable<PackageBuild> Builds => Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id && b.ReceiverId == Desk.Receiver.Id).OrderByDescending(b => b.At);

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (Guid.TryParse(RouteData.Values["id"]?.ToString(), out var asked) && HttpMethods.IsGet(Request.Method)
            && await BriefAsync(Request.Query["handler"].ToString(), asked, HttpContext.RequestAborted) is { } brief)
        {
            context.Result = brief;
            return;
        }

        if (!Guid.TryParse(RouteData.Values["id"]?.ToString(), out var id) || await Desks.OpenAsync(User, id, ReceiverAsked(Request), HttpContext.RequestAborted) is not { } desk)
        {
            context.Result = NotFound();
            return;
        }

        Desk = desk;
        if (HttpMethods.IsPost(Request.Method) && ReceiverAsked(Request) is { } to && to != desk.Receiver.Id)
        {
            context.Result = new ConflictObjectResult("This receiver left the transfer in the meantime. Nothing was changed; the page shows the first receiver now.");
            return;
        }

        await LoadFrameAsync();
        var executed = await next();
        if (executed.Exception is RevisionConflictException problem)
        {
            // Somebody was quicker between the look at the revision and the keeping.
            (executed.ExceptionHandled, executed.Result) = (true, new ConflictObjectResult(problem.Message));
        }
    }

    public async Task<IActionResult> OnPostUndoAsync(int from, CancellationToken stop)
    {
        await revisions.UndoAsync(Desk.Id, from, stop);
        return await Answer("HX-Refresh", "true");
    }

    public async Task<IActionResult> OnPostRedoAsync(int from, CancellationToken stop)
    {
        await revisions.RedoAsync(Desk.Id, from, stop);
        return await Answer("HX-Refresh", "true");
    }

    public async Task<IActionResult> OnPostOpenRevisionAsync(int from, int number, CancellationToken stop)
    {
        await revisions.OpenAsync(Desk.Id, from, number, stop);
        return await Answer("HX-Refresh", "true");
    }

    /// <summary>Keeps a change of the preparation that was made on a revision; one that changes nothing makes no revision.</summary>
    /// <param name="from">The revision that the change was made on.</param>
    /// <param name="edit">Works it out.</param>
    /// <param name="stop">Stops it before it is kept.</param>
    /// <param name="answer">What is shown then; none loads the page again.</param>
    protected Task<IActionResult> EditAsync(int from, Func<Edit<Preparation>> edit, CancellationToken stop, Func<Task<IActionResult>>? answer = null) => KeepAsync(
        from, edit, changed => changed.After == Desk.Preparation ? Task.CompletedTask : Desks.CommitAsync(
            Desk, ForReceiver(changed.Words), receivers: Desk.Receivers.With(Desk.Receiver with { Preparation = changed.After!.Dated(DateOnly.FromDateTime(DateTime.UtcNow)) }), stop: stop), answer);

    /// <summary>Keeps a change of the receivers.</summary>
    /// <param name="from">The revision that the change was made on.</param>
    /// <param name="edit">Works it out.</param>
    /// <param name="stop">Stops it before it is kept.</param>
    /// <param name="answer">What is shown then; none loads the page again.</param>
    protected Task<IActionResult> EditReceiversAsync(int from, Func<Edit<ReceiverList>> edit, CancellationToken stop, Func<Task<IActionResult>>? answer = null) => KeepAsync(
        from, edit, changed => changed.After == Desk.Receivers ? Task.CompletedTask : Desks.CommitAsync(Desk, changed.Words, receivers: changed.After, stop: stop), answer);

    /// <summary>The words of a change that is one receiver's only, where there are several.</summary>
    protected string ForReceiver(string words) => Desk.Receivers.IsOne ? words : $"for {Desk.Receiver.Called}: {words}";

    /// <summary>Keeps a change of the intake, which joins all sources again.</summary>
    /// <param name="from">The revision that the change was made on.</param>
    /// <param name="edit">Works it out.</param>
    /// <param name="stop">Stops it before it is kept.</param>
    /// <param name="answer">What is shown then; none loads the page again.</param>
    protected Task<IActionResult> EditIntakeAsync(int from, Func<Edit<IntakeState>> edit, CancellationToken stop, Func<Task<IActionResult>>? answer = null) => KeepAsync(
        from, edit, changed => Desks.CommitIntakeAsync(Desk, changed.Words, changed.After!, stop), answer);

    /// <summary>The change of the preparation that the fields of the sent form say.</summary>
    /// <param name="end">The end that the files have now, in session samples.</param>
    protected Edit<Preparation> Typed(Func<long> end) =>
        new PreparationEdit(Desk.Session, Desk.Preparation, Request.Form.ToDictionary(f => f.Key, f => f.Value.FirstOrDefault() ?? string.Empty), end).Apply();

    /// <summary>Whether a change was made on another revision than the one in force; the answer to it then.</summary>
    protected ConflictObjectResult? Stale(int from) => Desk.Revision is not { } revision
        ? new ConflictObjectResult("There is no revision to change yet. Bring the session in first.")
        : from == revision.Number ? null : new ConflictObjectResult(new RevisionConflictException(revision.By, revision.Number, revision.Words).Message);

    /// <summary>Goes to another stage after a change.</summary>
    protected Task<IActionResult> GoTo(string stage) => Answer("HX-Redirect", At(stage));

    /// <summary>What a page that waits asks again and again, answered without opening the desk; null where there is more to show than how far the work is.</summary>
    protected virtual Task<IActionResult?> BriefAsync(string handler, Guid transfer, CancellationToken stop) => Task.FromResult<IActionResult?>(null);

    /// <summary>Answers with a part of the page that stands there.</summary>
    protected PartialViewResult Part(string name)
    {
        IsPart = true;
        return Partial(name, this);
    }

    /// <summary>Opens the desk again after a change, for the answer that shows it.</summary>
    protected async Task ReloadAsync()
    {
        Desk = (await Desks.OpenAsync(User, Desk.Id, Desk.Receiver.Id, HttpContext.RequestAborted))!;
        await LoadFrameAsync();
    }

    /// <summary>Words of a refusal are shown as they come.</summary>
    public override BadRequestObjectResult BadRequest(object error) => base.BadRequest(error is string words ? HiddenMarks.Shown(words) : error);

    /// <summary>The address of a page of this transfer, for this receiver.</summary>
    public string At(string page) => $"/transfers/{Desk.Id}/{page}{Desk.Query}";

    /// <summary>The address of this stage for another receiver.</summary>
    public string PathFor(Receiver receiver) => $"/transfers/{Desk.Id}/{StageName.ToLowerInvariant()}{(Desk with { Receiver = receiver }).Query}";

    // A page says in a header which receiver it shows, since its own address is left out of what it asks for.
    protected static string? ReceiverAsked(HttpRequest request) => request.Headers["Lyro-Receiver"].FirstOrDefault() ?? request.Query["to"].FirstOrDefault();

    private async Task<IActionResult> KeepAsync<T>(int from, Func<Edit<T>> edit, Func<Edit<T>, Task> keep, Func<Task<IActionResult>>? answer)
        where T : class
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        var changed = edit();
        if (changed.Problem is { } problem)
        {
            return BadRequest(problem);
        }

        await keep(changed);
        return await (answer?.Invoke() ?? Answer("HX-Refresh", "true"));
    }

    /// <summary>Answers with nothing but a header for the page that stands there.</summary>
    protected Task<IActionResult> Answer(string header, string value)
    {
        Response.Headers[header] = value;
        return Task.FromResult<IActionResult>(new NoContentResult());
    }

    private async Task LoadFrameAsync()
    {
        var stop = HttpContext.RequestAborted;
        Revisions = await Database.Revisions.AsNoTracking().Where(r => r.TransferId == Desk.Id).OrderByDescending(r => r.Number).Take(200).ToListAsync(stop);
        var build = await Builds.FirstOrDefaultAsync(stop);
        Stages = MakeStages(build);
    }

    private List<Stage> MakeStages(PackageBuild? build)
    {
        var bad = Desk.Intake.Items.Count(i => i.Error is not null) + Desk.Session.Media.Count(m => m.Place == Core.Sessions.MediaPlace.Missing) + Desks.Joined(Desk).RateDoubts.Count;
        var flags = Desks.Flags(Desk).Count(g => g.IsOpen);
        var going = Desk.Preparation.Tracks.Count(t => t.Treatment != Treatment.HoldBack);
        var files = Desk.IsEmpty ? 0 : Desks.Plan(Desk).Files.Count;
        return
        [
            new("Intake", At("intake"), Desk.IsEmpty ? "nothing brought in" : bad > 0 ? $"{Phrases.Count(Desk.Intake.Items.Count, "file")}, {bad} to look at" : Phrases.Count(Desk.Intake.Items.Count, "file"), bad > 0, !Desk.IsEmpty),
            new("Survey", At("survey"), Desk.IsEmpty ? "nothing yet" : flags > 0 ? $"{Phrases.Count(flags, "flag")} open" : "no flags", flags > 0, !Desk.IsEmpty),
            new("Prepare", At("prepare"), Desk.IsEmpty ? "nothing yet" : $"{going} of {Phrases.Count(Desk.Session.Tracks.Count, "track")} go", false, !Desk.IsEmpty),
            new("Build", At("build"), Desk.IsEmpty ? "nothing yet" : build?.State is WorkState.Working or WorkState.Waiting ? "at work" : build?.State == WorkState.Failed ? "last one failed" : $"{Phrases.Count(files, "file")} to write", build?.State == WorkState.Failed, build?.State == WorkState.Done),
            new("Proof", At("proof"), build?.Verdict is null ? "not proved yet" : $"{(build.Passed ? "passed" : "failed")}, revision {build.Revision}", build is { Verdict: not null, Passed: false }, build?.Passed ?? false),
            new("Handover", At("handover"), build?.State == WorkState.Done ? "a package is ready" : "no package yet", false, false),
        ];
    }

}
