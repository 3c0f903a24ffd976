using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Editing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>What was meant, what was found, and the difference.</summary>
public sealed class ProofPageModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Proof";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("x", "what differs"), ("/", "find"), ("d", "download"), ("a", "stop listening")];

    public PackageBuild? Build { get; private set; }

    /// <summary>The session sample at which the files of the preparation in force begin.</summary>
    public long RangeStart => Desks.Plan(Desk).Range.Start;

    /// <summary>Takes stems and guide mix before the master's effects.</summary>
    public Task<IActionResult> OnPostBeforeMasterAsync(int from, CancellationToken stop) => EditAsync(from, () => PreparationEdit.BeforeMaster(Desk.Preparation), stop, () => GoTo("build"));

    /// <summary>Writes what was above full scale as float, or lowers all files.</summary>
    public Task<IActionResult> OnPostOversAsync(int from, string how, CancellationToken stop) =>
        EditAsync(from, () => how == "float" ? PreparationEdit.AsFloat(Desk.Preparation) : PreparationEdit.LowerOvers(Desk.Preparation), stop, () => GoTo("build"));

    public async Task OnGetAsync(Guid? build, CancellationToken stop)
    {
        var all = Builds;
        Build = build is { } id
            ? await Database.Builds.AsNoTracking().FirstOrDefaultAsync(b => b.Id == id && b.TransferId == Desk.Id, stop)
            : await all.FirstOrDefaultAsync(b => b.Verdict != null, stop) ?? await all.FirstOrDefaultAsync(stop);
    }
}
