using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Pairing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Brings the pieces in, and says where each came to lie and why.</summary>
public sealed class IntakeModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, Storage.Store.FileStore store, PairDesk pairs) : DeskPage(desks, database, revisions)
{
    private const int MostBatches = 5;

    public override string StageName => "Intake";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("a", "add files"), ("m", "next missing or unread")];

    public JoinedSession Joined { get; private set; } = null!;

    public IReadOnlyList<IntakeBatch> Batches { get; private set; } = [];

    /// <summary>Files that broke off on the way in, and how much of each is here.</summary>
    public IReadOnlyList<(string Name, long Arrived, long Length, Guid Batch)> Broken { get; private set; } = [];

    /// <summary>Mono tracks that may be one sound.</summary>
    public IReadOnlyList<TrackPair> Pairs { get; private set; } = [];

    /// <summary>Tracks of several channels, which may be split.</summary>
    public IReadOnlyList<Track> Wide => [.. Desk.Session.Tracks.Where(t => t is { Kind: TrackKind.Audio, Channels: > 1 })];

    /// <summary>Media that were bound by hand, and to which file.</summary>
    public IReadOnlyList<(string Media, string Name, string File)> ChosenLinks => [.. Desk.Intake.Links.Select(l => (
        l.Key, Desk.Session.Media.FirstOrDefault(m => m.Id == l.Key)?.FileName ?? "a medium", Desk.Intake.Items.FirstOrDefault(i => i.Id == l.Value)?.Name ?? "left missing"))];

    /// <summary>Sound files that are in the session.</summary>
    public IReadOnlyList<IntakeItem> Sounds => [.. Desk.Intake.Items.Where(i => i.IsSound && i.Sound!.Frames > 0)];

    /// <summary>Sound files whose rate was decided by hand.</summary>
    public IReadOnlyList<IntakeItem> DeclaredRates => [.. Sounds.Where(i => i.DeclaredRate is not null)];

    public string TrackName(string id) => Desk.Session.Tracks.FirstOrDefault(t => t.Id == id)?.Name ?? id;

    /// <summary>The number of the revision in force once the batches were read; a batch that ended meanwhile may have made a newer one than the page shows.</summary>
    public int Newest { get; private set; }

    public bool IsBusy => Batches.Any(b => b.State is WorkState.Waiting or WorkState.Working);

    public bool HasDocument => DocumentName is not null;

    public string? DocumentName => Desk.Intake.Items.FirstOrDefault(i => i.IsDocument)?.Name;

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

    public async Task<IActionResult> OnPostPlaceAsync(int from, string item, PlacementRule rule, string? sample, CancellationToken stop)
    {
        var old = Desk.Intake.Items.FirstOrDefault(i => i.Id == item);
        if (old is null || from != Desk.Revision?.Number)
        {
            return new ConflictObjectResult("This list is out of date; somebody changed the intake. It was loaded again.");
        }

        var digits = new string((sample ?? string.Empty).Where(c => char.IsAsciiDigit(c) || c is '-' or '−').ToArray()).Replace('−', '-');
        if (rule == PlacementRule.Offset && sample is not null && (!long.TryParse(digits, out _) || digits.Length > 14))
        {
            return BadRequest($"\"{sample}\" is no whole number of samples.");
        }

        var at = sample is null ? Desks.Joined(Desk).Placed[item].Sample ?? 0 : long.TryParse(digits, out var typed) ? typed : 0;
        var placed = old with { Placement = new Placement(rule, rule == PlacementRule.Offset ? at : 0) };
        var intake = Desk.Intake with { Items = [.. Desk.Intake.Items.Select(i => i.Id == item ? placed : i)] };
        var words = rule switch { PlacementRule.Offset => $"at sample {at}", PlacementRule.SessionStart => "at session start", _ => "by its time stamp" };
        await Desks.CommitIntakeAsync(Desk, $"placed {Path.GetFileName(old.Name)} {words}", intake, stop);
        Response.Headers["HX-Refresh"] = "true";
        return new NoContentResult();
    }

    /// <summary>Decides whose tempo map leads; a map that was made at Survey gives way.</summary>
    public Task<IActionResult> OnPostLeadAsync(int from, string item, CancellationToken stop)
    {
        var name = Desk.Intake.Items.FirstOrDefault(i => i.Id == item)?.Name;
        return name is null
            ? Task.FromResult<IActionResult>(BadRequest("There is no such source."))
            : DecideAsync(from, $"{Path.GetFileName(name)} leads in tempo and meter", Desk.Intake with { MapFrom = item, MapEdits = [] }, stop);
    }

    public Task<IActionResult> OnPostDropEditsAsync(int from, CancellationToken stop) =>
        DecideAsync(from, "tempo and meter as the sources say", Desk.Intake with { MapEdits = [] }, stop);

    /// <summary>Takes markers from one source, or from all.</summary>
    public Task<IActionResult> OnPostMarkersAsync(int from, string? item, CancellationToken stop)
    {
        var name = Desk.Intake.Items.FirstOrDefault(i => i.Id == item)?.Name;
        return DecideAsync(from, name is null ? "markers from all sources" : $"markers from {Path.GetFileName(name)} only", Desk.Intake with { MarkersFrom = name is null ? null : item }, stop);
    }

    public Task<IActionResult> OnPostLinkAsync(int from, string media, string item, CancellationToken stop)
    {
        var (wanted, file) = (Desk.Session.Media.FirstOrDefault(m => m.Id == media), Desk.Intake.Items.FirstOrDefault(i => i.Id == item && i.IsSound));
        return wanted is null || file is null
            ? Task.FromResult<IActionResult>(BadRequest("There is no such file any more. Load the page again."))
            : DecideAsync(from, $"{wanted.FileName} is {Path.GetFileName(file.Name)}", Desk.Intake with { Links = Desk.Intake.Links.Where(l => l.Key != media).Append(KeyValuePair.Create(media, item)).ToDictionary() }, stop);
    }

    public Task<IActionResult> OnPostLinkAllAsync(int from, CancellationToken stop)
    {
        // Each file once: the likeliest for two media goes to the first.
        var links = Desk.Intake.Links.ToDictionary();
        foreach (var missing in Desks.Joined(Desk).Missing.Where(m => m.Doubtful.Count > 0))
        {
            if (missing.Doubtful.FirstOrDefault(d => !links.ContainsValue(d.Candidate)) is { } likeliest)
            {
                links[missing.Media] = likeliest.Candidate;
            }
        }

        return DecideAsync(from, "took the likeliest file for each medium in doubt", Desk.Intake with { Links = links }, stop);
    }

    public Task<IActionResult> OnPostUnlinkAsync(int from, string media, CancellationToken stop) =>
        DecideAsync(from, "a link by hand was taken back", Desk.Intake with { Links = Desk.Intake.Links.Where(l => l.Key != media).ToDictionary() }, stop);

    /// <summary>Declares the rate of a sound file whatever its header says; none goes back to the header.</summary>
    public Task<IActionResult> OnPostRateAsync(int from, string item, string? rate, CancellationToken stop)
    {
        var sound = Sounds.FirstOrDefault(i => i.Id == item);
        if (sound is null || (rate is not null && !(Rational.TryParse(rate, out var hz) && RateFinder.IsLikely(hz))))
        {
            return Task.FromResult<IActionResult>(BadRequest(sound is null ? "There is no such sound file any more. Load the page again." : $"\"{rate}\" is no rate that sound is recorded at."));
        }

        var words = rate is null ? "has the rate of its header again" : $"is {RateFinder.Words(SoundFileFacts.RateOf(rate))}";
        var items = Desk.Intake.Items.Select(i => i.Id == item ? i with { DeclaredRate = rate } : i);
        return DecideAsync(from, $"{Path.GetFileName(sound.Name)} {words}", Desk.Intake with { Items = [.. items] }, stop);
    }

    public Task<IActionResult> OnPostCompositionAsync(int from, string name, CancellationToken stop) => Desks.Joined(Desk).Compositions.Contains(name)
        ? DecideAsync(from, $"took the composition {name}", Desk.Intake with { Composition = name, ChannelEdits = [] }, stop)
        : Task.FromResult<IActionResult>(BadRequest("There is no such composition."));

    public async Task<IActionResult> OnPostJoinAsync(int from, string[] tracks, string name, CancellationToken stop)
    {
        try
        {
            var edit = await TrackPairs.JoinAsync(Desk.Session, Desk.Media, tracks, name, stop);
            return await DecideAsync(from, $"joined {string.Join(" and ", tracks.Select(TrackName))} to {name}", Desk.Intake with { ChannelEdits = [.. Desk.Intake.ChannelEdits, edit] }, stop);
        }
        catch (BadInputException problem)
        {
            return BadRequest(problem.Message);
        }
    }

    public Task<IActionResult> OnPostSplitAsync(int from, string track, CancellationToken stop) => PairJoin.Split(Desk.Session, track) is null
        ? Task.FromResult<IActionResult>(BadRequest("There is no such track to split."))
        : DecideAsync(from, $"split {TrackName(track)} to mono", Desk.Intake with { ChannelEdits = [.. Desk.Intake.ChannelEdits, new ChannelEdit([track], null, [])] }, stop);

    public Task<IActionResult> OnPostUndoChannelsAsync(int from, CancellationToken stop) =>
        DecideAsync(from, "took back the last joining or splitting", Desk.Intake with { ChannelEdits = [.. Desk.Intake.ChannelEdits.SkipLast(1)] }, stop);

    private async Task<IActionResult> DecideAsync(int from, string words, IntakeState intake, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return new ConflictObjectResult("Somebody changed the intake in the meantime. Load the page again.");
        }

        await Desks.CommitIntakeAsync(Desk, words, intake, stop);
        Response.Headers["HX-Refresh"] = "true";
        return new NoContentResult();
    }

    public async Task<IActionResult> OnPostFactsAsync(int from, string sessionName, string frameRate, string? start, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return new ConflictObjectResult("Somebody changed the intake in the meantime. Load the page again.");
        }

        if (!Core.Time.FrameRate.TryFromName(frameRate, out var rate))
        {
            return BadRequest($"There is no frame rate {frameRate}.");
        }

        if (!string.IsNullOrWhiteSpace(start) && !Timecode.TryParse(start, rate, out _))
        {
            return BadRequest($"\"{start}\" is no timecode at {frameRate} frames a second.");
        }

        var intake = Desk.Intake with
        {
            SessionName = string.IsNullOrWhiteSpace(sessionName) ? Desk.Transfer.Name : sessionName.Trim(),
            FrameRate = frameRate,
            Start = string.IsNullOrWhiteSpace(start) ? null : start.Trim(),
        };
        await Desks.CommitIntakeAsync(Desk, $"session facts: {intake.SessionName}, {frameRate} frames, start {intake.Start ?? "by time stamp"}", intake, stop);
        Response.Headers["HX-Refresh"] = "true";
        return new NoContentResult();
    }

    private async Task LoadAsync(CancellationToken stop)
    {
        Joined = Desks.Joined(Desk);
        Pairs = pairs.Find(Desk);
        Batches = await Database.Batches.AsNoTracking().Where(b => b.TransferId == Desk.Id).OrderByDescending(b => b.At).Take(MostBatches).ToListAsync(stop);
        Newest = await Database.Transfers.Where(t => t.Id == Desk.Id).Select(t => t.Current).SingleAsync(stop);
        var open = await Database.Uploads.AsNoTracking().Where(u => u.Batch!.TransferId == Desk.Id && u.Batch.State == WorkState.Receiving).ToListAsync(stop);
        Broken = open.Select(u => (u.Name, Endpoints.Uploads.Arrived(store, u), u.Length, u.BatchId)).ToList();
    }
}
