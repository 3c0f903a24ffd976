using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Editing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Every state of a transfer: any two side by side in words and on the timeline, their names, and another transfer from one.</summary>
public sealed class RevisionsModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    /// <summary>How many rows of differences are shown; the count says how many there are.</summary>
    public const int MostRows = 400;

    private const int LongestName = 80;
    private readonly RevisionLog _revisions = revisions;

    public override string StageName => "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys => [];

    public Revision? Before { get; private set; }

    public Revision? After { get; private set; }

    public RevisionComparison? Comparison { get; private set; }

    /// <summary>The tracks that differ, drawn.</summary>
    public ChangePicture? Picture { get; private set; }

    public async Task<IActionResult> OnGetAsync(int? before, int? after, CancellationToken stop)
    {
        var all = Database.Revisions.AsNoTracking().Where(r => r.TransferId == Desk.Id);
        After = await all.SingleOrDefaultAsync(r => r.Number == (after ?? Desk.Transfer.Current), stop);
        var other = before ?? After?.Parent;
        Before = await all.SingleOrDefaultAsync(r => r.Number == other, stop);
        if ((before is not null && Before is null) || (after is not null && After is null))
        {
            return NotFound();
        }

        if (Before is not null && After is not null)
        {
            var (was, now) = (At(Before), At(After));
            Comparison = RevisionComparison.Of(was.Session, was.Receivers, now.Session, now.Receivers);
            Picture = ChangePicture.Of(Comparison.Tracks, was.Session, now.Session);
        }

        return Page();
    }

    public async Task<IActionResult> OnPostNameAsync(int number, string? name, CancellationToken stop)
    {
        var said = (name ?? string.Empty).Trim();
        return said.Length > LongestName || said.Any(char.IsControl) ? BadRequest($"A name of a revision has at most {LongestName} characters.")
            : await _revisions.NameAsync(Desk.Id, number, said, stop) ? await Answer("HX-Refresh", "true") : NotFound();
    }

    public async Task<IActionResult> OnPostBranchAsync(int number, string? name, CancellationToken stop)
    {
        var said = (name ?? string.Empty).Trim();
        return said.Length is 0 or > LongestName || said.Any(char.IsControl) ? BadRequest($"The new transfer needs a name of 1 to {LongestName} characters.")
            : await _revisions.BranchAsync(Desk.Id, number, said, Desk.Engineer.Name, stop) is { } made ? await Answer("HX-Redirect", $"/transfers/{made.Id}/survey") : NotFound();
    }

    private (Session Session, ReceiverList Receivers) At(Revision revision)
    {
        var desk = Desks.Make(Desk.Transfer, Desk.Room, Desk.Engineer, revision);
        return (desk.Session, desk.Receivers);
    }
}
