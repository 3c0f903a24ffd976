using System.ComponentModel.DataAnnotations;
using Lyrotrans.Core.Errors;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>The room's transfers.</summary>
public sealed class IndexModel(LyroContext database, RoomAccess access, DeskLoader desks, Incoming.RoomClaims claims, ILogger<IndexModel> log) : PersonPage(desks, access)
{
    public sealed record Row(Guid Id, string Name, string Receiver, string Stage, int Flags, int Tracks, int Revision, string Proof, DateTimeOffset Changed)
    {
        /// <summary>Whether its documents are there and can be read.</summary>
        public bool Opens => Stage != Broken;
    }

    private const string Broken = "cannot be opened";

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    /// <summary>How much each of the rooms takes.</summary>
    public IReadOnlyList<(string Room, Incoming.RoomUse Use)> Uses { get; private set; } = [];

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
        var transfers = await Access.Transfers(Engineer.Id).OrderByDescending(t => t.ChangedAt).Take(500).ToListAsync(stop);
        var rows = new List<Row>();
        foreach (var transfer in transfers)
        {
            rows.Add(await RowAsync(transfer, stop));
        }

        Rows = rows;
        var uses = new List<(string, Incoming.RoomUse)>();
        foreach (var room in Rooms)
        {
            uses.Add((room.Name, await claims.UseAsync(room.Id, stop)));
        }

        Uses = uses;
    }

    private async Task<Row> RowAsync(Transfer transfer, CancellationToken stop)
    {
        var build = await database.Builds.AsNoTracking().Where(b => b.TransferId == transfer.Id).OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
        var proof = build?.Verdict is null ? "none" : $"{(build.Passed ? "passed" : "failed")}, revision {build.Revision}";
        try
        {
            var desk = await Desks.OpenAsync(transfer, Engineer, stop);
            var flags = Desks.Flags(desk).Count(g => g.IsOpen);
            return new Row(transfer.Id, transfer.Name, string.Join(", ", desk.Receivers.All.Select(r => r.Name).Where(n => n.Length > 0)), StageOf(desk.Revision, build), flags, desk.Session.Tracks.Count, transfer.Current, proof, transfer.ChangedAt);
        }
        catch (Exception problem) when (problem is BadInputException or InvalidOperationException or IOException)
        {
            // One that cannot be opened must not take the others away.
            log.LogError(problem, "The transfer {Transfer} cannot be opened", transfer.Id);
            return new Row(transfer.Id, transfer.Name, transfer.Receiver, Broken, 0, 0, transfer.Current, proof, transfer.ChangedAt);
        }
    }

    private static string StageOf(Revision? revision, PackageBuild? build) =>
        revision is null ? "Intake" : build is null ? "Survey" : build.State == WorkState.Done ? "Proof" : "Build";
}
