using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The packages that were built, to hand over.</summary>
public sealed class HandoverModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Handover";

    /// <summary>What the newest package was built by, which the session in force may have left behind.</summary>
    public Core.Delivering.DeliveryPlan? Plan { get; private set; }

    public IReadOnlyList<PackageBuild> Builds { get; private set; } = [];

    public async Task OnGetAsync(CancellationToken stop)
    {
        Builds = await Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id && b.State == WorkState.Done).OrderByDescending(b => b.At).ToListAsync(stop);
        if (Builds.Count > 0)
        {
            var revision = await Database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == Desk.Id && r.Number == Builds[0].Revision, stop);
            Plan = Desks.Plan(Desks.Make(Desk.Transfer, Desk.Room, Desk.Engineer, revision));
        }
    }
}
