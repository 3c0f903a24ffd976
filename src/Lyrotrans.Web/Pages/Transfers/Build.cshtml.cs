using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Workflow.Editing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The list of files first, then the build with its progress.</summary>
public sealed class BuildModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, WorkBook work, Incoming.RoomClaims claims, Settings settings) : DeskPage(desks, database, revisions)
{
    private DeliveryPlan? _plan;
    private CarryPlan? _carry;
    private string? _full;

    public override string StageName => "Build";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("b", "build"), ("Enter", "which ones")];

    public DeliveryPlan Plan => _plan ??= Desks.Plan(Desk);

    public CarryPlan Carry => _carry ??= CarryPlan.Of(Plan);

    public PackageBuild? Latest { get; private set; }

    /// <summary>Why this cannot be built as it stands; null where it can.</summary>
    public string? Problem => Plan.Problem ?? _full;

    public string Free => DiskSpace.FreeIn(settings.DataFolder) is { } free ? $"{Digits.Bytes(free)} free" : "free space unknown";

    /// <summary>An estimate from the time taken so far.</summary>
    public string TimeLeft
    {
        get
        {
            if (Latest is not { State: WorkState.Working, Fraction: > 0.05 } build)
            {
                return string.Empty;
            }

            var left = (DateTimeOffset.UtcNow - build.At) * ((1 - build.Fraction) / build.Fraction);
            return $", about {Math.Max(1, (int)left.TotalSeconds)} s to go";
        }
    }

    /// <summary>The folder below the package's own that a file lies in; empty for none.</summary>
    public string FolderOf(PlannedFile file)
    {
        var inside = file.Path[(Plan.Root.Length + 1)..];
        return inside[..(inside.IndexOf('/', StringComparison.Ordinal) + 1)];
    }

    /// <summary>What all dry files add up to at most; null where that is not known.</summary>
    public PeakSum? Peaks => field ??= PeakSum.Of(Plan, Desks.Sounds(Desk));

    /// <summary>What a file is, as people check it: from what, how, channels, rate, depth and how long.</summary>
    public string About(PlannedFile file)
    {
        var form = file.Form;
        return string.Join(" · ", new[]
        {
            From(file),
            file.Channels > 0 ? Phrases.Channels(file.Channels) : string.Empty,
            form is null ? string.Empty : $"{Digits.Grouped(form.Rate.HeaderHz)} Hz",
            form is null || file.Kind == PlannedKind.ListeningCopy ? string.Empty : form.Encoding.Words(),
            form is not null ? TimeSpan.FromSeconds(form.Rate.SecondsOf(file.Frames).ToDouble()).ToString(@"m\:ss\.fff", System.Globalization.CultureInfo.InvariantCulture) : string.Empty,
        }.Where(w => w.Length > 0));
    }

    // What the mixes that are made here lack.
    private string Without => field ??= GuideMix.Lacks(Plan.Session, Plan.Preparation) is { Count: > 0 } lacking ? $", without {Phrases.First(lacking)}" : string.Empty;

    private string From(PlannedFile file)
    {
        var track = Plan.Session.Tracks.FirstOrDefault(t => t.Id == file.TrackId)?.Name;
        return file.Kind switch
        {
            PlannedKind.FromZero => $"{track}, {Plan.Preparation.Tracks.First(c => c.TrackId == file.TrackId).Treatment.Words()}",
            PlannedKind.Stem => $"stem of {Phrases.Count(StemGroup.Of(Plan.Session, Plan.Preparation).First(g => g.Name == file.Group).Tracks.Count, "track")}",
            PlannedKind.GuideMix => Core.Routing.TrackRoles.Of(Desk.Session).Guide is { } guide ? $"{guide.Name}, as it came" : $"mix of {MixTracks.Words(Plan.Session, Plan.Preparation)}{Without}",
            PlannedKind.FinishedMix => $"mix of {MixTracks.Words(Plan.Session, Plan.Preparation)}, through the master{Without}",
            PlannedKind.SameSound => "the same sound",
            PlannedKind.Click => Choices.Voices[Desk.Preparation.Click.Voice].Words,
            PlannedKind.ListeningCopy => "copy to listen to",
            PlannedKind.ClipFile => $"clips of {Phrases.Count(Plan.Preparation.Tracks.Count(c => c.Treatment == Treatment.KeepClips), "track")}",
            _ => track ?? string.Empty,
        };
    }

    public static string Class(Fate fate) => fate switch { Fate.Carried => "carried", Fate.Converted => "converted", Fate.Printed => "printed", _ => "held" };

    public static string Words(Fate fate) => fate == Fate.HeldBack ? "held back" : Class(fate);

    public Task OnGetAsync(CancellationToken stop) => LoadAsync(stop);

    protected override async Task<IActionResult?> BriefAsync(string handler, Guid transfer, CancellationToken stop)
    {
        if (handler != "State")
        {
            return null;
        }

        var to = ReceiverAsked(Request) ?? PackageBuild.OnlyReceiver;
        Latest = await access.Builds(Desks.IdOf(User)).Where(b => b.TransferId == transfer && b.ReceiverId == to).OrderByDescending(b => b.At).FirstOrDefaultAsync(stop);
        return Latest?.State is WorkState.Waiting or WorkState.Working ? Partial("_BuildState", this) : null;
    }

    public async Task<IActionResult> OnGetStateAsync(CancellationToken stop)
    {
        await LoadAsync(stop);
        return Part("_BuildState");
    }

    /// <summary>The names of the objects in one row of the carry plan.</summary>
    public IActionResult OnGetWhich(string kind) => Carry.Rows.FirstOrDefault(r => r.Kind == kind) is { } row ? Partial("_Which", row) : NotFound();

    public async Task<IActionResult> OnPostBuildAsync(int from, Guid? after, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        _full = await FullAsync(stop);
        if (Problem is { } problem)
        {
            return BadRequest(problem);
        }

        await work.BeginAsync(new PackageBuild { Id = Guid.NewGuid(), TransferId = Desk.Id, Revision = from, ReceiverId = Desk.Receiver.Id, ReceiverName = Desk.Receiver.Name, By = Desk.Engineer.Name, At = DateTimeOffset.UtcNow }, after, stop);
        return await OnGetStateAsync(stop);
    }

    /// <summary>Accepts by its name that something goes without its sound, or takes that back.</summary>
    public Task<IActionResult> OnPostAcceptAsync(int from, string name, bool accept, CancellationToken stop) =>
        EditAsync(from, () => PreparationEdit.Accept(Desk.Preparation, Plan.Gaps.All.Select(g => g.Name), name, accept), stop);

    public async Task<IActionResult> OnPostStopAsync(Guid build, CancellationToken stop)
    {
        await WorkBook.StopAsync(Database.Builds.Where(b => b.Id == build && b.TransferId == Desk.Id), stop);
        return await OnGetStateAsync(stop);
    }

    private Task<string?> FullAsync(CancellationToken stop) => claims.ProblemAsync(Desk.Room.Id, "The package", Plan.Bytes, stop);

    private async Task LoadAsync(CancellationToken stop)
    {
        _full = await FullAsync(stop);
        Latest = await Builds.FirstOrDefaultAsync(stop);
    }
}
