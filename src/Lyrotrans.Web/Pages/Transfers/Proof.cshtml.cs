using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>What was meant, what was found, and the difference.</summary>
public sealed class ProofPageModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Proof";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("x", "what differs"), ("/", "find"), ("d", "download")];

    public PackageBuild? Build { get; private set; }

    public async Task OnGetAsync(Guid? build, CancellationToken stop)
    {
        var all = Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id).OrderByDescending(b => b.At);
        Build = build is { } id
            ? await all.FirstOrDefaultAsync(b => b.Id == id, stop)
            : await all.FirstOrDefaultAsync(b => b.Verdict != null, stop) ?? await all.FirstOrDefaultAsync(stop);
    }
}
