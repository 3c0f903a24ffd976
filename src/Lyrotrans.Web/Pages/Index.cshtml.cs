using System.ComponentModel.DataAnnotations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>The room's transfers.</summary>
public sealed class IndexModel(LyroContext database, DeskLoader desks) : PageModel
{
    public sealed record Row(Guid Id, string Name, string Receiver, string Stage, int Flags, int Tracks, int Revision, string Proof, DateTimeOffset Changed);

    public Account Engineer { get; private set; } = null!;

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    [BindProperty]
    [Required(ErrorMessage = "The session needs a name.")]
    [StringLength(120)]
    public string Name { get; set; } = string.Empty;

    [BindProperty]
    [StringLength(120)]
    public string? Receiver { get; set; }

    public Task OnGetAsync(CancellationToken stop) => LoadAsync(stop);

    public async Task<IActionResult> OnPostAsync(CancellationToken stop)
    {
        await LoadAsync(stop);
        if (!ModelState.IsValid)
        {
            return Page();
        }

        var transfer = new Transfer { Id = Guid.NewGuid(), RoomId = Engineer.RoomId, Name = Name.Trim(), Receiver = (Receiver ?? string.Empty).Trim(), ChangedAt = DateTimeOffset.UtcNow };
        database.Transfers.Add(transfer);
        await database.SaveChangesAsync(stop);
        return Redirect($"/transfers/{transfer.Id}/intake");
    }

    private async Task LoadAsync(CancellationToken stop)
    {
        Engineer = await desks.EngineerAsync(User, stop);
        var transfers = await database.Transfers.AsNoTracking().Where(t => t.RoomId == Engineer.RoomId).OrderByDescending(t => t.ChangedAt).Take(500).ToListAsync(stop);
        var rows = new List<Row>();
        foreach (var transfer in transfers)
        {
            var revision = await database.Revisions.AsNoTracking().SingleOrDefaultAsync(r => r.TransferId == transfer.Id && r.Number == transfer.Current, stop);
            var build = await database.Builds.AsNoTracking().Where(b => b.TransferId == transfer.Id).OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
            var desk = desks.Make(transfer, Engineer.Room!, Engineer, revision);
            var flags = desks.Flags(desk).Count;
            var proof = build?.Verdict is null ? "none" : $"{(build.Passed ? "passed" : "failed")}, revision {build.Revision}";
            rows.Add(new Row(transfer.Id, transfer.Name, transfer.Receiver, StageOf(revision, build), flags, desk.Session.Tracks.Count, transfer.Current, proof, transfer.ChangedAt));
        }

        Rows = rows;
    }

    private static string StageOf(Revision? revision, PackageBuild? build) =>
        revision is null ? "Intake" : build is null ? "Survey" : build.State == WorkState.Done ? "Proof" : "Build";
}
