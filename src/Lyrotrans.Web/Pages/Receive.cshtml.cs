using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Handover;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Links;
using Lyrotrans.Workflow.Following;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Lyrotrans.Web.Pages;

/// <summary>The page that a link opens, for whoever has it: what is in the package, how to bring it in, and what to say to the sender.</summary>
[AllowAnonymous]
[EnableRateLimiting(DoorServices.LinksLimit)]
public sealed class ReceiveModel(LinkBook book, LinkVisitor visitor, WrongLinks wrong, DeskLoader desks, ReturnDesk returns, ArrivalDesk arrivals, Tries tries) : PageModel
{
    private const int LongestWord = 2000;
    private const int LongestName = 100;

    /// <summary>Null where the link opens nothing, for whatever reason.</summary>
    public OpenedLink? Opened { get; private set; }

    /// <summary>What the package was built by; null where the passphrase was not typed yet.</summary>
    public DeliveryPlan? Plan { get; private set; }

    public IReadOnlyList<ReceivedFile> Files { get; private set; } = [];

    public ValueArray<HandoverStep> Steps => field == default ? field = HandoverSteps.Of(Plan!) : field;

    public ValueArray<CheckPoint> Points => field == default ? field = CheckPoints.Of(Plan!) : field;

    public ValueArray<JoinedPair> Pairs => field == default ? field = JoinedPairs.Of(Plan!) : field;

    public ValueArray<LeftBehind> Left => field == default ? field = LeftBehinds.Of(Plan!) : field;

    /// <summary>What it brings to somebody who has the package before; null for a whole package.</summary>
    public FollowUp? FollowUp { get; private set; }

    /// <summary>What says best how it should sound; null where nothing does.</summary>
    public ReceivedFile? ToHear { get; private set; }

    /// <summary>What was sent back by this link and was not thrown away.</summary>
    public IReadOnlyList<ReturnedFile> SentBack { get; private set; } = [];

    /// <summary>What was compared with what was sent, the newest first.</summary>
    public IReadOnlyList<ArrivalCheck> Arrivals { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(string token, CancellationToken stop)
    {
        if (!await OpenAsync(token, stop))
        {
            return Nothing();
        }

        if (Opened!.IsOpen)
        {
            visitor.Welcome();
            await book.NoteAsync(Opened.Link, LinkEventKind.Opened, string.Empty, string.Empty, stop);
            await ShowAsync(stop);
        }

        return Page();
    }

    public async Task<IActionResult> OnPostPassphraseAsync(string token, string? passphrase, CancellationToken stop)
    {
        if (!await OpenAsync(token, stop))
        {
            return Nothing();
        }

        var link = Opened!.Link;
        if (!tries.May(TryOf.Link(link.Id)))
        {
            ModelState.AddModelError(string.Empty, "It was typed wrong too often. Wait five minutes and try again.");
            return Page();
        }

        if (!book.IsRight(link, passphrase ?? string.Empty))
        {
            tries.Wrong(TryOf.Link(link.Id));
            await book.NoteAsync(link, LinkEventKind.Refused, string.Empty, "the passphrase was wrong", stop);
            ModelState.AddModelError(string.Empty, "That is not the passphrase. Ask whoever sent the link.");
            return Page();
        }

        tries.Right(TryOf.Link(link.Id));
        visitor.Open(link);
        return Redirect(Opened.At(string.Empty));
    }

    public Task<IActionResult> OnPostConfirmAsync(string token, string? name, CancellationToken stop) =>
        SayAsync(token, name, link => book.ConfirmAsync(link, Typed(name, LongestName), stop), stop);

    public Task<IActionResult> OnPostWordAsync(string token, string? name, string? word, CancellationToken stop) => SayAsync(
        token, name, link => string.IsNullOrWhiteSpace(word) ? Task.CompletedTask : book.NoteAsync(link, LinkEventKind.Word, Typed(name, LongestName), Typed(word, LongestWord), stop), stop);

    /// <summary>What the receiver's browser found when it held files to their sums; it is the receiver's word.</summary>
    public async Task<IActionResult> OnPostCheckedAsync(string token, int whole, int differ, CancellationToken stop)
    {
        if (!await OpenAsync(token, stop) || !Opened!.IsOpen)
        {
            return NotFound();
        }

        var all = Opened.Package.Files.Count;
        var words = $"{Digits.Grouped(Math.Clamp(whole, 0, all))} of {Phrases.Count(all, "file")} whole{(differ > 0 ? $", {Digits.Grouped(Math.Min(differ, all))} not" : string.Empty)}";
        await book.NoteAsync(Opened.Link, LinkEventKind.Checked, string.Empty, words, stop);
        return new NoContentResult();
    }

    /// <summary>Begins a comparison, which then gets its files.</summary>
    public async Task<IActionResult> OnPostArrivedAsync(string token, CancellationToken stop)
    {
        if (!await OpenAsync(token, stop) || !Opened!.IsOpen)
        {
            return NotFound();
        }

        var (check, problem) = await arrivals.BeginAsync(Opened.Link, stop);
        return check is null ? BadRequest(problem!) : Content(check.Id.ToString());
    }

    /// <summary>All files of a comparison are here.</summary>
    public async Task<IActionResult> OnPostCompareAsync(string token, Guid check, CancellationToken stop) => !await OpenAsync(token, stop) || !Opened!.IsOpen ? NotFound()
        : await arrivals.CompareAsync(Opened.Link, check, stop) is { } problem ? BadRequest(problem) : new NoContentResult();

    /// <summary>How far comparisons are.</summary>
    public async Task<IActionResult> OnGetArrivalsAsync(string token, CancellationToken stop) => !await OpenAsync(token, stop) || !Opened!.IsOpen ? NotFound()
        : Partial("_Arrivals", await arrivals.OfAsync([Opened.Link.Id], stop));

    private async Task<IActionResult> SayAsync(string token, string? name, Func<PackageLink, Task> say, CancellationToken stop)
    {
        if (!await OpenAsync(token, stop) || !Opened!.IsOpen)
        {
            return Nothing();
        }

        if (string.IsNullOrWhiteSpace(name))
        {
            ModelState.AddModelError(string.Empty, "Say who you are, so that the sender knows.");
            await ShowAsync(stop);
            return Page();
        }

        await say(Opened.Link);
        return Redirect($"{Opened.At(string.Empty)}#answer");
    }

    private async Task<bool> OpenAsync(string token, CancellationToken stop) => (Opened = await book.FindAsync(token, stop)) is not null;

    private async Task ShowAsync(CancellationToken stop)
    {
        Plan = (await desks.PlanAsync(Opened!.Build, stop)).Plan;
        Files = ReceivedFiles.Of(Opened.Package, Plan);
        FollowUp = Opened.Package.FollowUp;
        ToHear = ReceivedFiles.ToHear(Files, Plan);
        Arrivals = await arrivals.OfAsync([Opened.Link.Id], stop);
        SentBack = [.. (await returns.OfAsync([Opened.Link.Id], stop)).Where(f => f.State is ReturnState.Here or ReturnState.Taken)];
    }

    // One answer for a link that is wrong, too old or taken back.
    private IActionResult Nothing()
    {
        if (!wrong.MayOnce(HttpContext))
        {
            return StatusCode(StatusCodes.Status429TooManyRequests);
        }

        Response.StatusCode = StatusCodes.Status404NotFound;
        return Page();
    }

    private static string Typed(string? text, int most) => (text ?? string.Empty).Trim() is var typed && typed.Length > most ? typed[..most] : typed;
}
