using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Fields;
using Lyrotrans.Workflow.Cutting;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Pairing;
using Lyrotrans.Workflow.Placing;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Tempos;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Brings the pieces in, and says where each came to lie and why.</summary>
public sealed class IntakeModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, Incoming.ArrivingFiles files, Uploading.ForgottenBatches forgotten, PairDesk pairs, RoleDesk roles, LostDesk places, CutDesk cuts, TempoDesk tempos, Doors.RoomLog log, Keys.RoomKeys keys) : DeskPage(desks, database, revisions)
{
    private const int MostBatches = 5;

    public override string StageName => "Intake";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("a", "add files"), ("m", "next missing or unread")];

    public JoinedSession Joined { get; private set; } = null!;

    /// <summary>Packages that were brought in, and what can be said of each here.</summary>
    public IReadOnlyList<IncomingView> Packages { get; private set; } = [];

    public IReadOnlyList<IntakeBatch> Batches { get; private set; } = [];

    /// <summary>Files that broke off on the way in, and how much of each is here.</summary>
    public IReadOnlyList<(string Name, long Arrived, long Length, Guid Batch)> Broken { get; private set; } = [];

    /// <summary>Mono tracks that may be one sound.</summary>
    public IReadOnlyList<TrackPair> Pairs { get; private set; } = [];

    /// <summary>The most channels that a grid is shown for.</summary>
    public const int MostInGrid = 24;

    /// <summary>Tracks of many channels, with what each channel is called.</summary>
    public IReadOnlyList<(Track Track, IReadOnlyList<string> Names)> Grids => [.. Wide.Where(t => t.Channels is > 2 and <= MostInGrid).Select(t => (t, NamesOf(t)))];

    private IReadOnlyList<string> NamesOf(Track track)
    {
        var known = Desk.Intake.Items.FirstOrDefault(i => RoleJoin.TrackOf(i) == track.Id)?.Sound?.ChannelNames;
        return [.. Enumerable.Range(0, track.Channels).Select(c => known is not null && c < known.Count && known[c].Length > 0 ? known[c] : $"{track.Name}.{c + 1}")];
    }

    /// <summary>Tracks of several channels, which may be split.</summary>
    public IReadOnlyList<Track> Wide => [.. Desk.Session.Tracks.Where(t => t is { Kind: TrackKind.Audio, Channels: > 1 })];

    /// <summary>Media that were bound by hand, and to which file.</summary>
    public IReadOnlyList<(string Media, string Name, string File)> ChosenLinks => [.. Desk.Intake.Links.Select(l => (
        l.Key, Desk.Session.Media.FirstOrDefault(m => m.Id == l.Key)?.FileName ?? "a medium", Desk.Intake.Items.FirstOrDefault(i => i.Id == l.Value)?.Name ?? "left missing"))];

    /// <summary>Sound files that are in the session.</summary>
    public IReadOnlyList<IntakeItem> Sounds => [.. Desk.Intake.Items.Where(i => i.IsSound && i.Sound!.Frames > 0)];

    /// <summary>Sound files whose rate was decided by hand.</summary>
    public IReadOnlyList<IntakeItem> DeclaredRates => [.. Sounds.Where(i => i.DeclaredRate is not null)];

    /// <summary>Descriptions of the session besides the one that leads.</summary>
    public IReadOnlyList<IntakeItem> OtherDocuments => [.. Desk.Intake.Items.Where(i => i.IsDocument && !Joined.Told.Contains(i.Id) && Joined.Placed.GetValueOrDefault(i.Id)?.Sample is null)];

    /// <summary>Per cent from which sets of tracks are joined in one press.</summary>
    public const int CertainFrom = 80;

    /// <summary>Names of files that were left out, at most.</summary>
    public const int MostLeftOut = 500;

    /// <summary>What was left out and may be the document of a session, where none could be read; null otherwise.</summary>
    public string? UnknownDocument => HasDocument ? null : Desk.Intake.LeftOut.Where(f => f.MayBeDocument).MaxBy(f => f.Bytes)?.Name;

    /// <summary>Sound files whose place was lost.</summary>
    public LostFiles Lost { get; private set; } = null!;

    /// <summary>Tracks that a tempo map may be read off, clicks first; none where tempos are known and there is no click.</summary>
    public IReadOnlyList<Track> TempoTracks { get; private set; } = [];

    /// <summary>Tracks from zero, which can be cut back at their silences.</summary>
    public IReadOnlyList<Track> FromZero { get; private set; } = [];

    /// <summary>What sound files that nobody decided on seem to be.</summary>
    public IReadOnlyList<RoleProposal> Proposals { get; private set; } = [];

    /// <summary>Sound files that are tracks of their own, and may be said to be something else.</summary>
    public IReadOnlyList<IntakeItem> RoleTracks
    {
        get
        {
            var tracks = Desk.Session.Tracks.Where(t => t.Kind == TrackKind.Audio).Select(t => t.Id).ToHashSet();
            return [.. Sounds.Where(i => tracks.Contains(RoleJoin.TrackOf(i)))];
        }
    }

    /// <summary>Tracks that a file may be a print or a stem of.</summary>
    public IReadOnlyList<Track> RoleTargets
    {
        get
        {
            var files = RoleTracks.Select(RoleJoin.TrackOf).ToHashSet();
            return [.. Desk.Session.Tracks.Where(t => !files.Contains(t.Id) && IntakeEdits.CanHave(t, RoleKind.Print))];
        }
    }

    /// <summary>A role in words.</summary>
    public static string Words(RoleKind kind) => kind == RoleKind.Track ? "track" : RoleJoin.KindOf(kind).Words();

    /// <summary>What a role is of, in words.</summary>
    public static string OfWords(ItemRole role) => role.Of.Count > 0 ? string.Join(", ", role.Of.Select(o => o.Name)) : role.Kind == RoleKind.Click ? "the grid" : "all";

    public string TrackName(string id) => Desk.Session.Tracks.FirstOrDefault(t => t.Id == id)?.Name ?? id;

    /// <summary>The number of the revision in force once the batches were read; a batch that ended meanwhile may have made a newer one than the page shows.</summary>
    public int Newest { get; private set; }

    public bool IsBusy => Batches.Any(b => b.State is WorkState.Waiting or WorkState.Working);

    public bool HasDocument => DocumentName is not null;

    public string? DocumentName => Desk.Intake.Items.FirstOrDefault(i => i.Id == Joined.Leader)?.Name;

    /// <summary>Descriptions of sessions that lie beside the one that leads.</summary>
    public IReadOnlyList<IntakeItem> BesideDocuments => [.. Desk.Intake.Items.Where(i => i.IsDocument && i.Id != Joined.Leader && Desk.Intake.Beside.Contains(i.Id))];

    public string Headline
    {
        get
        {
            var bad = Desk.Intake.Items.Count(i => i.Error is not null);
            return Desk.IsEmpty ? "" : $"{Phrases.Count(Desk.Intake.Items.Count - bad, "source")} make one session{(bad > 0 ? $"; {Phrases.Count(bad, "file")} could not be read" : "")}";
        }
    }

    public Task OnGetAsync(CancellationToken stop) => LoadAsync(stop);

    protected override async Task<IActionResult?> BriefAsync(string handler, Guid transfer, CancellationToken stop)
    {
        if (handler != "Batches")
        {
            return null;
        }

        // One question sees the batches and the revision as they were at one instant: what ended is never newer than the number.
        var found = await access.Batches(Desks.IdOf(User)).AsNoTracking().Where(b => b.TransferId == transfer).OrderByDescending(b => b.At).Take(MostBatches)
            .Select(b => new { Batch = b, Newest = Database.Transfers.Where(t => t.Id == transfer).Select(t => t.Current).Single() }).ToListAsync(stop);
        (Batches, Newest) = ([.. found.Select(f => f.Batch)], found.FirstOrDefault()?.Newest ?? 0);
        return found.Count > 0 ? Partial("_Batches", this) : null;
    }

    public async Task<IActionResult> OnGetBatchesAsync(CancellationToken stop)
    {
        await LoadAsync(stop);
        return Partial("_Batches", this);
    }

    private IntakeEdits Edits => new(Desk.Intake, Desk.Session, Desks.Joined(Desk));

    public Task<IActionResult> OnPostPlaceAsync(int from, string item, PlacementRule rule, string? sample, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Place(item, rule, sample), stop);

    /// <summary>Decides whose tempo map leads; a map that was made at Survey gives way.</summary>
    public Task<IActionResult> OnPostLeadAsync(int from, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Lead(item), stop);

    public Task<IActionResult> OnPostDropEditsAsync(int from, CancellationToken stop) => EditIntakeAsync(from, Edits.DropMapEdits, stop);

    /// <summary>Takes markers from one source, or from all.</summary>
    public Task<IActionResult> OnPostMarkersAsync(int from, string? item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.MarkersFrom(item), stop);

    public Task<IActionResult> OnPostLinkAsync(int from, string media, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Link(media, item), stop);

    public Task<IActionResult> OnPostLinkAllAsync(int from, CancellationToken stop) => EditIntakeAsync(from, Edits.LinkLikeliest, stop);

    public Task<IActionResult> OnPostUnlinkAsync(int from, string media, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Unlink(media), stop);

    /// <summary>Does one thing with all marked files, as one step.</summary>
    public Task<IActionResult> OnPostManyAsync(int from, string[] item, string does, string? rule, string? text, string? unit, string? rate, CancellationToken stop) => EditIntakeAsync(from, () => does switch
    {
        "place" => rule == "InRow" ? Edits.PlaceMany(item, PlacementRule.Offset, unit ?? string.Empty, text, inRow: true)
            : Enum.TryParse<PlacementRule>(rule, out var by) && Enum.IsDefined(by) ? Edits.PlaceMany(item, by, unit ?? string.Empty, text, inRow: false)
            : new Refused("There is no such way to place files."),
        "rate" => Edits.DeclareRates(item, string.IsNullOrEmpty(rate) ? null : rate),
        "tracks" => Edits.RoleOfMany(item, RoleKind.Track),
        "clicks" => Edits.RoleOfMany(item, RoleKind.Click),
        "split" => Edits.SplitMany(item),
        "remove" => Edits.RemoveMany(item, Joins),
        _ => new Refused("There is no such thing to do with files."),
    }, stop);

    /// <summary>Joins all sets of tracks that are certain enough.</summary>
    public async Task<IActionResult> OnPostJoinAllAsync(int from, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        try
        {
            var decisions = new List<ChannelEdit>();
            foreach (var pair in Certain(pairs.Of(Desk)))
            {
                decisions.Add(await TrackPairs.JoinAsync(Desk.Session, Desk.Media, [.. pair.Tracks], pair.Name, stop));
            }

            return await EditIntakeAsync(from, () => Edits.JoinMany(decisions), stop);
        }
        catch (BadInputException problem)
        {
            return BadRequest(problem.Message);
        }
    }

    /// <summary>Those that can be joined and are certain, each track once.</summary>
    public static IReadOnlyList<TrackPair> Certain(IReadOnlyList<TrackPair> pairs)
    {
        var used = new HashSet<string>();
        return [.. pairs.Where(p => p.Hindrance is null && p.Confidence >= CertainFrom).OrderByDescending(p => p.Confidence).Where(p => !p.Tracks.Any(used.Contains) && p.Tracks.All(used.Add))];
    }

    /// <summary>Declares the rate of a sound file whatever its header says; none goes back to the header.</summary>
    public Task<IActionResult> OnPostRateAsync(int from, string item, string? rate, CancellationToken stop) => EditIntakeAsync(from, () => Edits.DeclareRate(item, rate), stop);

    /// <summary>What was measured of a sound file in its role, or in the one that it seems to have.</summary>
    public async Task<IActionResult> OnGetMeasuredAsync(string item, CancellationToken stop)
    {
        var joined = Desks.Joined(Desk);
        return await roles.MeasureAsync(Desk, item, stop) is { } measure
            ? Partial("_Measured", (measure, item, Desk.Revision!.Number, joined.Placed.GetValueOrDefault(item)?.Sample))
            : NotFound();
    }

    public Task<IActionResult> OnPostRemoveAsync(int from, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Remove(item, Joins), stop);

    /// <summary>Lets a second description of the session take the place of the one that leads.</summary>
    public Task<IActionResult> OnPostInsteadAsync(int from, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.TakeInstead(item, Joins), stop);

    /// <summary>Lays another session beside the one that leads.</summary>
    public Task<IActionResult> OnPostBesideAsync(int from, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.LayBeside(item, Joins), stop);

    public Task<IActionResult> OnPostNotBesideAsync(int from, string item, CancellationToken stop) => EditIntakeAsync(from, () => Edits.NotBeside(item, Joins), stop);

    private Session Joins(IntakeState state) => Desks.Joined(Desk with { Intake = state, Revision = null }).Session;

    /// <summary>Looks for the files whose place was lost, by their sound.</summary>
    public async Task<IActionResult> OnGetFoundAsync(CancellationToken stop) => Partial("_Found", (await places.FindAsync(Desk, stop), Desk.Revision?.Number ?? 0));

    /// <summary>Places one file where it was found, or all that are sure.</summary>
    public async Task<IActionResult> OnPostTakeFoundAsync(int from, string? item, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        var found = (await places.FindAsync(Desk, stop)).Where(f => f.Place is { } place && (item is null ? place.IsSure : f.Item == item)).ToDictionary(f => f.Item, f => f.Place!.Value.Nearest);
        return await EditIntakeAsync(from, () => Edits.PlaceFound(found), stop);
    }

    /// <summary>Shows the tempo map that a click says.</summary>
    public async Task<IActionResult> OnGetClickMapAsync(string track, ClickNote? note, int? countIn, CancellationToken stop) =>
        await tempos.ReadAsync(Desk, track, note, countIn, stop) is { } reading ? Partial("_ClickMap", (reading, Desk)) : NotFound();

    /// <summary>Takes the tempo map that a click says.</summary>
    public async Task<IActionResult> OnPostClickMapAsync(int from, string track, ClickNote? note, int? countIn, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        return await tempos.ReadAsync(Desk, track, note, countIn, stop) is { Map: { } map } reading
            ? await EditIntakeAsync(from, () => Edits.TempoOf(map.Map, reading.Click.Name), stop)
            : BadRequest("That is no click: no tempo can be read off it.");
    }

    /// <summary>Shows where tracks from zero would be cut at their silences.</summary>
    public async Task<IActionResult> OnGetCutAsync(string? track, string? threshold, string shortest, string before, string after, string fade, CancellationToken stop)
    {
        if (CutTyping.Read(threshold, shortest, before, after, fade) is not { } rule)
        {
            return BadRequest(CutTyping.Asks);
        }

        track = string.IsNullOrEmpty(track) ? null : track;
        return await Measured(rule, track, stop) is { } found ? Partial("_CutPreview", new CutPreview(Desk, found, rule, track)) : BadRequest(CannotRead);
    }

    /// <summary>Cuts tracks from zero back at their silences.</summary>
    public async Task<IActionResult> OnPostCutAsync(int from, string? track, string? threshold, string shortest, string before, string after, string fade, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        if (CutTyping.Read(threshold, shortest, before, after, fade) is not { } rule)
        {
            return BadRequest(CutTyping.Asks);
        }

        if (await Measured(rule, string.IsNullOrEmpty(track) ? null : track, stop) is not { } found)
        {
            return BadRequest(CannotRead);
        }

        var cut = found.Where(c => c.IsCut).ToList();
        return await EditIntakeAsync(from, () => Edits.Cut([.. cut.Select(c => c.Cut)], cut.Sum(c => c.Pieces.Count)), stop);
    }

    private const string CannotRead = "A file cannot be read to its end, so its silences are not known. Survey says which.";

    private async Task<IReadOnlyList<CutTrack>?> Measured(CutRule rule, string? track, CancellationToken stop)
    {
        try
        {
            return await cuts.MeasureAsync(Desk, rule, track, stop);
        }
        catch (BadInputException)
        {
            return null;
        }
    }

    /// <summary>Makes a track whole again, or all.</summary>
    public Task<IActionResult> OnPostUncutAsync(int from, string? track, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Uncut(string.IsNullOrEmpty(track) ? null : track), stop);

    /// <summary>Says what a sound file is; nothing leaves it undecided again.</summary>
    public Task<IActionResult> OnPostRoleAsync(int from, string item, RoleKind? kind, string[] of, CancellationToken stop) =>
        EditIntakeAsync(from, () => kind is { } role ? Edits.Role(item, role, [.. of.Where(o => o.Length > 0)]) : Edits.Undecided(item), stop);

    /// <summary>Takes all roles that are sure.</summary>
    public Task<IActionResult> OnPostRolesAsync(int from, CancellationToken stop) =>
        EditIntakeAsync(from, () => Edits.Roles(RoleFinder.Propose(Desk.Session, Desk.Intake.Items).Where(p => p.IsSure).ToDictionary(p => p.Item, p => p.Role)), stop);

    public Task<IActionResult> OnPostCompositionAsync(int from, string name, CancellationToken stop) => EditIntakeAsync(from, () => Edits.TakeComposition(name), stop);

    public async Task<IActionResult> OnPostJoinAsync(int from, string[] tracks, string name, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        try
        {
            var decision = await TrackPairs.JoinAsync(Desk.Session, Desk.Media, tracks, name, stop);
            return await EditIntakeAsync(from, () => Edits.Join(decision, name), stop);
        }
        catch (BadInputException problem)
        {
            return BadRequest(problem.Message);
        }
    }

    public Task<IActionResult> OnPostSplitAsync(int from, string track, CancellationToken stop) => EditIntakeAsync(from, () => Edits.Split(track), stop);

    /// <summary>Splits a track as a grid says: for each channel the number of a column, and for each column a name.</summary>
    public Task<IActionResult> OnPostChannelsAsync(int from, string track, string?[] name, CancellationToken stop)
    {
        var channels = Desk.Session.Tracks.FirstOrDefault(t => t.Id == track)?.Channels ?? 0;
        var to = Enumerable.Range(0, channels).Select(c => int.TryParse(Request.Form[$"to.{c}"], out var column) && column >= 0 && column < name.Length ? column : -1).ToList();
        return EditIntakeAsync(from, () => to.Contains(-1)
            ? new Refused("Every channel goes to one track, and none is lost.")
            : Edits.Split(track, [.. to.Select((column, channel) => (column, channel)).GroupBy(c => c.column).OrderBy(g => g.Key).Select(g => new ChannelGroup(name[g.Key] ?? string.Empty, [.. g.Select(c => c.channel)]))]), stop);
    }

    public Task<IActionResult> OnPostUndoChannelsAsync(int from, CancellationToken stop) => EditIntakeAsync(from, Edits.UndoChannels, stop);

    public Task<IActionResult> OnPostFactsAsync(int from, string sessionName, string frameRate, string? start, CancellationToken stop) =>
        EditIntakeAsync(from, () => Edits.Facts(sessionName, Desk.Transfer.Name, frameRate, start), stop);

    /// <summary>Forgets the files that broke off on the way in.</summary>
    public async Task<IActionResult> OnPostForgetAsync(CancellationToken stop)
    {
        var count = await Database.Uploads.CountAsync(u => Database.Batches.Any(b => b.Id == u.BatchId && b.TransferId == Desk.Id && b.State == WorkState.Receiving), stop);
        await log.NoteAsync(Desk.Room.Id, Desk.Engineer, RoomEventKind.Deleted, $"{Phrases.Count(count, "file")} of {Desk.Transfer.Name} that did not all arrive");
        await forgotten.ForgetAsync(Database.Batches.Where(b => b.TransferId == Desk.Id && b.State == WorkState.Receiving), stop);
        return await Answer("HX-Refresh", "true");
    }

    private async Task LoadAsync(CancellationToken stop)
    {
        Joined = Desks.Joined(Desk);
        Proposals = RoleFinder.Propose(Desk.Session, Desk.Intake.Items);
        Lost = LostDesk.Of(Desk);
        var hasClick = Proposals.Any(p => p.Role.Kind == RoleKind.Click) || Desk.Session.Tracks.Any(t => t.Kind == TrackKind.Click);
        TempoTracks = Joined.SaysTempo && !hasClick ? [] : ClickTempos.Of(Desk.Session, Desk.Intake.Items);
        FromZero = cuts.Tracks(Desk);
        Pairs = pairs.Of(Desk);
        Batches = await Database.Batches.AsNoTracking().Where(b => b.TransferId == Desk.Id).OrderByDescending(b => b.At).Take(MostBatches).ToListAsync(stop);
        Newest = await Database.Transfers.Where(t => t.Id == Desk.Id).Select(t => t.Current).SingleAsync(stop);
        var open = await Database.Uploads.AsNoTracking().Where(u => u.Batch!.TransferId == Desk.Id && u.Batch.State == WorkState.Receiving).ToListAsync(stop);
        Broken = open.Select(u => (u.Name, files.Arrived(u), u.Length, u.BatchId)).ToList();
        Packages = Desk.Intake.PackagesHere.Count == 0 ? [] : await PackagesAsync(stop);
    }

    private async Task<IReadOnlyList<IncomingView>> PackagesAsync(CancellationToken stop)
    {
        var known = await keys.KnownAsync(Desk.Room.Id, stop);
        var sent = (await Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id && b.ManifestSha256 != null).Select(b => b.ManifestSha256!).ToListAsync(stop)).ToHashSet();
        return [.. Desk.Intake.PackageChecks().Select(c => IncomingView.Of(c, Desk.Intake.Items, known, sent))];
    }
}
