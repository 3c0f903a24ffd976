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

    /// <summary>Packages for this receiver, the newest first; then those of receivers that left.</summary>
    public IReadOnlyList<PackageBuild> Packages { get; private set; } = [];

    /// <summary>The files that came and are here, as the archive would have them; those that only earlier revisions had are counted when it is fetched.</summary>
    public IReadOnlyList<long> Originals => field ??= [.. Desk.Intake.Items.Select(i => i.Sha256).Where(s => s.Length > 0 && Desk.Media.Has(s)).Distinct().Select(s => Desk.Media.FileOf(s).Length)];

    /// <summary>Names of files that came and are not here any more.</summary>
    public IReadOnlyList<string> Gone => [.. Desk.Intake.Items.Where(i => i.Sha256.Length > 0 && !Desk.Media.Has(i.Sha256)).Select(i => i.Name)];

    /// <summary>How many revisions there are.</summary>
    public int RevisionCount { get; private set; }

    public string ArchivePath => $"/transfers/{Desk.Id}/archive";

    public async Task OnGetAsync(CancellationToken stop)
    {
        RevisionCount = await Database.Revisions.CountAsync(r => r.TransferId == Desk.Id, stop);
        var here = Desk.Receivers.All.Select(r => r.Id).ToList();
        var left = Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id && b.State == WorkState.Done && !here.Contains(b.ReceiverId)).OrderByDescending(b => b.At);
        Packages = [.. await Builds.Where(b => b.State == WorkState.Done).ToListAsync(stop), .. await left.ToListAsync(stop)];
        if (Packages.Count > 0)
        {
            var revision = await Database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == Desk.Id && r.Number == Packages[0].Revision, stop);
            var then = Desks.Make(Desk.Transfer, Desk.Room, Desk.Engineer, revision);
            Plan = Desks.Plan(then with { Receiver = then.Receivers[Packages[0].ReceiverId] ?? then.Receiver });
        }
    }
}
