using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Core.Time;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Rehearsing;
using Lyrotrans.Workflow.Rehearsing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>A package read back as its receiver would read it: what would move, and what would sound otherwise.</summary>
public sealed class RehearseModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, PackageStore packages, RehearsalDesk rehearsals) : DeskPage(desks, database, revisions)
{
    /// <summary>The longest bound of names that can be typed, in characters.</summary>
    public const int MostLetters = 255;

    public override string StageName => "Handover";

    /// <summary>Null where there is no package.</summary>
    public PackageBuild? Build { get; private set; }

    /// <summary>What the package was built by.</summary>
    public DeliveryPlan Plan { get; private set; } = null!;

    /// <summary>The newest reading; null before there is one.</summary>
    public RehearsalRun? Run { get; private set; }

    /// <summary>What it found; null until it has ended.</summary>
    public RehearsalReport? Report { get; private set; }

    /// <summary>As the package was read last; as its receiver's sheet says before that.</summary>
    public ReadingLimits Limits { get; private set; } = ReadingLimits.None;

    /// <summary>Whether the limits are those of the sheet as it was when the package was built.</summary>
    public bool IsBySheet { get; private set; }

    /// <summary>The sheet's name; null where the receiver had none.</summary>
    public string? Sheet => Plan.Preparation.Sheet?.Name;

    /// <summary>Whether it is being read.</summary>
    public bool IsBusy => Run?.State is WorkState.Waiting or WorkState.Working;

    /// <summary>The timecode of a sample of what was sent.</summary>
    public Timecode At(long sample) => (_scale ??= SentSession.Of(Plan, null).Session.TimecodeScale).At(sample).Frame;

    private TimecodeScale? _scale;

    public Task OnGetAsync(Guid? build, CancellationToken stop) => LoadAsync(build, stop);

    /// <summary>How far it is.</summary>
    public async Task<IActionResult> OnGetStateAsync(Guid build, CancellationToken stop)
    {
        await LoadAsync(build, stop);
        return Build is null ? NotFound() : Part("_Rehearsal");
    }

    /// <summary>Reads the package back with these limits.</summary>
    public async Task<IActionResult> OnPostReadAsync(Guid build, List<string>? limits, long? longest, string? letters, long? rate, CancellationToken stop)
    {
        await LoadAsync(build, stop);
        if (Build is null || !ModelState.IsValid || longest is < SheetTerms.ShortestName or > MostLetters || !Choices.Letters.ById.TryGetValue(letters ?? string.Empty, out var taken)
            || (limits ?? []).Exists(l => !ReadingLimits.Kinds.ById.ContainsKey(l)) || (rate is { } hz && !Rates.Contains(hz)))
        {
            return BadRequest(Build is null ? "There is no such package to read back; build it again." : $"A bound of names is {SheetTerms.ShortestName} to {MostLetters} characters, or nothing. Nothing was read.");
        }

        var unread = (limits ?? []).Select(l => ReadingLimits.Kinds.ById[l]).ToHashSet();
        var asked = new ReadingLimits([.. ReadingLimits.Kinds.Select(k => k.Value).Where(unread.Contains)], longest, taken, rate);
        await rehearsals.BeginAsync(Build, asked, Desk.Engineer, stop);
        await LoadAsync(build, stop);
        return Part("_Rehearsal");
    }

    /// <summary>Stops reading.</summary>
    public async Task<IActionResult> OnPostStopAsync(Guid build, CancellationToken stop)
    {
        await LoadAsync(build, stop);
        if (Build is null)
        {
            return NotFound();
        }

        await rehearsals.StopAsync(Build, stop);
        await LoadAsync(build, stop);
        return Part("_Rehearsal");
    }

    /// <summary>Rates that the session there may have, in Hz.</summary>
    public static IReadOnlyList<long> Rates { get; } = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000];

    private async Task LoadAsync(Guid? build, CancellationToken stop)
    {
        var mine = access.Builds(Desk.Engineer.Id).AsNoTracking().Where(b => b.TransferId == Desk.Id && b.State == WorkState.Done);
        Build = build is { } id ? await mine.SingleOrDefaultAsync(b => b.Id == id, stop) : await Builds.FirstOrDefaultAsync(b => b.State == WorkState.Done, stop);
        if (Build is null || packages.Kept(Build.Id) is null)
        {
            Build = null;
            return;
        }

        (Plan, _) = await Desks.PlanAsync(Build, stop);
        var revision = await Database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == Desk.Id && r.Number == Build.Revision, stop);
        var sheet = RehearsalDesk.LimitsOf(Desks.Make(Desk.Transfer, Desk.Room, Desk.Engineer, revision).Receivers[Build.ReceiverId]!, Plan);
        Run = (await rehearsals.OfAsync([Build.Id], stop)).GetValueOrDefault(Build.Id);
        Limits = Run is null ? sheet : RehearsalDesk.LimitsOf(Run);
        IsBySheet = Sheet is not null && Limits.Unread.SequenceEqual(sheet.Unread) && Limits == sheet with { Unread = Limits.Unread };
        Report = Run is null ? null : RehearsalDesk.ReportOf(Run);
    }
}
