using System.ComponentModel.DataAnnotations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>The room's transfers.</summary>
public sealed class IndexModel(LyroContext database, RoomAccess access, DeskLoader desks) : PageModel
{
    public sealed record Row(Guid Id, string Name, string Receiver, string Stage, int Flags, int Tracks, int Revision, string Proof, DateTimeOffset Changed);

    public Account Engineer { get; private set; } = null!;

    /// <summary>The engineer's rooms; a new transfer is the first one's.</summary>
    public IReadOnlyList<Room> Rooms { get; private set; } = [];

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

        var transfer = new Transfer { Id = Guid.NewGuid(), RoomId = Rooms[0].Id, Name = Name.Trim(), Receiver = (Receiver ?? string.Empty).Trim(), ChangedAt = DateTimeOffset.UtcNow };
        database.Transfers.Add(transfer);
        await database.SaveChangesAsync(stop);
        return Redirect($"/transfers/{transfer.Id}/intake");
    }

    private async Task LoadAsync(CancellationToken stop)
    {
        Engineer = await desks.EngineerAsync(User, stop);
        Rooms = await access.RoomsAsync(Engineer.Id, stop);
        var transfers = await access.Transfers(Engineer.Id).OrderByDescending(t => t.ChangedAt).Take(500).ToListAsync(stop);
        var rows = new List<Row>();
        foreach (var transfer in transfers)
        {
            var desk = await desks.OpenAsync(transfer, Engineer, stop);
            var build = await database.Builds.AsNoTracking().Where(b => b.TransferId == transfer.Id).OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
            var flags = desks.Flags(desk).Count;
            var proof = build?.Verdict is null ? "none" : $"{(build.Passed ? "passed" : "failed")}, revision {build.Revision}";
            rows.Add(new Row(transfer.Id, transfer.Name, transfer.Receiver, StageOf(desk.Revision, build), flags, desk.Session.Tracks.Count, transfer.Current, proof, transfer.ChangedAt));
        }

        Rows = rows;
    }

    private static string StageOf(Revision? revision, PackageBuild? build) =>
        revision is null ? "Intake" : build is null ? "Survey" : build.State == WorkState.Done ? "Proof" : "Build";
}
