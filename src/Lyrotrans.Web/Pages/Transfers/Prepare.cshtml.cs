using System.Globalization;
using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Proposing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Listening;
using Lyrotrans.Web.Sheets;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Incoming;
using Microsoft.AspNetCore.Mvc;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The track sheet: what each track becomes, in which order and under which name. Every change is a revision.</summary>
public sealed class PrepareModel(DeskLoader desks, LyroContext database, RevisionLog revisions, SheetShelf shelf) : DeskPage(desks, database, revisions)
{
    private const int HeardSeconds = 8;
    private DeliveryPlan? _plan;
    private IReadOnlyList<string>? _twice;
    private IReadOnlyDictionary<string, string>? _names;
    private IReadOnlySet<string>? _collided;

    public override string StageName => "Prepare";

    public override IReadOnlyList<(string Key, string Does)> Keys =>
    [
        ("↑ ↓", "row"), ("t", "treatment"), ("n", "name"), ("c", "channels"), ("p", "polarity"), ("m", "mark for mixes"), ("x", "mark the row"), ("Shift x", "mark to here"), ("/", "find rows"), ("Shift ↑ ↓", "move the row"), ("b", "to Build"),
    ];

    public DeliveryPlan Plan => _plan ??= Desks.Plan(Desk);

    public IReadOnlyDictionary<string, string> Names => _names ??= DeliveredNames.Of(Plan.Session, Plan.Preparation);

    /// <summary>Tracks whose names got a number, since another file would have theirs.</summary>
    public IReadOnlySet<string> Collided => _collided ??= DeliveredNames.Collided(Plan.Session, Plan.Preparation);

    /// <summary>The spare takes of a track that go, as the tracks that they become.</summary>
    public IEnumerable<Track> SparesOf(Track track) => track.Lanes.Select((_, i) => TakeTracks.IdOf(track.Id, i)).SelectMany(id => Plan.Session.Tracks.Where(t => t.Id == id));

    /// <summary>The further forms of a row, as the tracks that they become.</summary>
    public IEnumerable<(Track Track, BeneathChoice Form)> BeneathOf(TrackChoice choice) => Plan.Preparation.Tracks.Where(c => c.Of == choice.TrackId).Zip(choice.Beneath, (c, form) => (Plan.Session.Tracks.First(t => t.Id == c.TrackId), form));

    /// <summary>Names that cleaning changes: as they are here, and as they go.</summary>
    public IReadOnlyList<(string Here, string Goes)> CleanedNames
    {
        get
        {
            var (cleaned, names) = (DeliveredNames.Cleaned(Desk.Session, Desk.Preparation), Desk.Session.Tracks.ToDictionary(t => t.Id, t => t.Name));
            return [.. Desk.Preparation.Tracks.Where(c => c.Name is null && cleaned.TryGetValue(c.TrackId, out var goes) && goes != names[c.TrackId]).Select(c => (names[c.TrackId], cleaned[c.TrackId]))];
        }
    }

    /// <summary>Above this tempo, in quarters a minute, some readers of MIDI files refuse or clamp it.</summary>
    public const double UneasyTempo = 500;

    public MidiGrid Grid => new(Plan.Timeline, Plan.TimelineRange.Start);

    /// <summary>The rate of files of which nothing else was chosen, in words.</summary>
    public string UsualRate => $"{Digits.Grouped(Plan.Timeline.Rate.HeaderHz)} Hz";

    /// <summary>How many files of a kind go.</summary>
    public int CountOf(FileKind kind) => FilesOf(kind).Count();

    /// <summary>How long the files of a kind are.</summary>
    public string LengthOf(FileKind kind) => TimeSpan.FromSeconds(Plan.Forms[kind].Rate.SecondsOf(FilesOf(kind).First().Frames).ToDouble()).ToString(@"m\:ss\.fff", CultureInfo.InvariantCulture);

    private IEnumerable<PlannedFile> FilesOf(FileKind kind)
    {
        var targets = Plan.Session.Tracks.Where(t => FileKinds.Of(t) == FileKind.Returns).Select(t => t.Id).ToHashSet();
        return Plan.Files.Where(f => kind switch
        {
            FileKind.Tracks => f.Kind == PlannedKind.FromZero && !targets.Contains(f.TrackId!),
            FileKind.Returns => f.Kind == PlannedKind.FromZero && targets.Contains(f.TrackId!),
            FileKind.Stems => f.Kind == PlannedKind.Stem,
            FileKind.GuideMix => f.Kind == PlannedKind.GuideMix,
            FileKind.FinishedMix => f.Kind == PlannedKind.FinishedMix,
            FileKind.Click => f.Kind == PlannedKind.Click,
            _ => f.Kind == PlannedKind.ClipFile,
        });
    }

    /// <summary>How far the grid strays from the sound in each form of tempo, and how many events it takes.</summary>
    public IEnumerable<(TempoForm Form, string Words, TempoDrift Drift)> Drifts => Choices.Tempos.Select(t => (t.Value, t.Words, Desks.Drifts(Desk, Plan)[t.Value]));

    /// <summary>Effects in the way of the stems that bend their sum.</summary>
    public IReadOnlyList<BentPath> Bent => Workflow.Proving.StemSumProof.NotLinear(Plan);

    /// <summary>In seconds, where none was chosen.</summary>
    public string LongestTail => Desk.Session.Rate.SecondsOf(new Tails(Desk.Session, Desk.Preparation with { LongestTail = null }).Limit).ToDouble().ToString("0.000", CultureInfo.InvariantCulture);

    public string Headline
    {
        get
        {
            var going = Desk.Preparation.Tracks.Count(t => t.Treatment != Treatment.HoldBack);
            return $"{going} {(going == 1 ? "track goes" : "tracks go")}, {Desk.Preparation.Tracks.Count - going} do not";
        }
    }

    /// <summary>Names of tracks with sound of their own that do not go, with their states.</summary>
    public IReadOnlyList<string> Left
    {
        get
        {
            var held = Desk.Preparation.Tracks.Where(c => c.Treatment == Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
            return [.. Desk.Session.Tracks.Where(t => held.Contains(t.Id) && t.Kind.IsSource() && t.HasContent).Select(t => t.State == TrackState.Active ? t.Name : $"{t.Name} ({t.State.Words()})")];
        }
    }

    /// <summary>Names of the buses, returns and the master that what goes is heard through.</summary>
    public IReadOnlyList<string> Needs => [.. NeededPaths.Of(Desk.Session, Desk.Preparation).Select(t => t.Name)];

    /// <summary>The files whose sound goes.</summary>
    public IReadOnlyList<string> NeededMedia
    {
        get
        {
            var going = Desk.Preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
            var used = Desk.Session.Tracks.Where(t => going.Contains(t.Id)).Select(Roles.Sounding).SelectMany(t => t.Sounding?.Clips ?? []).Select(c => c.Media).ToHashSet();
            return [.. Desk.Session.Media.Where(m => used.Contains(m.Id)).Select(m => m.ShortName)];
        }
    }

    /// <summary>Samples of going sound that lie before the chosen start.</summary>
    public long CutBefore
    {
        get
        {
            var going = Desk.Preparation.Tracks.Where(c => c.Treatment.IsPrint()).Select(c => c.TrackId).ToHashSet();
            var first = Desk.Session.Tracks.Where(t => going.Contains(t.Id)).SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => (long?)c.Start).Min();
            return Math.Max(0, Plan.Range.Start - (first ?? long.MaxValue));
        }
    }

    /// <summary>Tracks that would say the same twice.</summary>
    public IReadOnlyList<string> Twice => _twice ??= MonoInStereo.Of(Desk.Session, Desk.Preparation, Desks.Sounds(Desk));

    /// <summary>What sound that was made elsewhere stands for.</summary>
    public TrackRoles Roles => field ??= TrackRoles.Of(Desk.Session);

    public static string Words(Treatment treatment) => treatment.Words();

    public static string Words(Treatment treatment, Track track) => treatment == Treatment.HoldBack && !track.Kind.IsSource() ? "record only" : treatment.Words();

    /// <summary>The bus that a track feeds, or what it is where it is a bus or return itself.</summary>
    public string BusOf(Track track) => !track.Kind.IsSource() && !track.Kind.HasRole() ? "buses, returns, master"
        : Desk.Session.Tracks.FirstOrDefault(t => t.Id == track.Output && t.Kind == TrackKind.Bus)?.Name ?? "straight to the master";

    /// <summary>The stem that a track goes into where nothing is typed in.</summary>
    public string StemOf(string trackId) => StemGroup.Of(Desk.Session, Desk.Preparation).FirstOrDefault(g => g.Tracks.Contains(trackId))?.Name ?? string.Empty;

    /// <summary>Names of tracks that sound in the guide mix or in returns and do not go by themselves.</summary>
    public IReadOnlyList<string> HeardOnly
    {
        get
        {
            var (tails, held) = (new Tails(Desk.Session, Desk.Preparation), Desk.Preparation.Tracks.Where(c => c.Treatment == Treatment.HoldBack).Select(c => c.TrackId).ToHashSet());
            return [.. Desk.Session.Tracks.Where(t => held.Contains(t.Id) && tails.IsHeard(t)).Select(t => t.Name)];
        }
    }

    /// <summary>Whether the mix asks which tracks are marked.</summary>
    public bool AsksForMarks => Desk.Preparation.Mix.Sounding is MixSounding.AllButMarked or MixSounding.OnlyMarked;

    /// <summary>What a row can become: its stem only where stems go.</summary>
    public IReadOnlyList<Treatment> Offered(TrackChoice choice, Track track) =>
        [.. Preparation.TreatmentsOf(track).Where(t => t != Treatment.StemOnly || Desk.Preparation.Mix.Stems || choice.Treatment == Treatment.StemOnly)];

    /// <summary>How a track's sound goes: what stands for another goes as its print.</summary>
    public static string FateOf(Treatment treatment, Track track) =>
        track.Kind is TrackKind.Print or TrackKind.Stem or TrackKind.GuideMix || treatment.IsPrint() ? "printed"
        : treatment == Treatment.HoldBack ? "held" : "carried";

    /// <summary>Whether a track of so many channels can be delivered so, and differently than it is.</summary>
    public static bool Offers(DeliveredChannels delivered, int channels) => delivered switch
    {
        DeliveredChannels.Mono => channels != 1,
        DeliveredChannels.Stereo => channels != 2,
        DeliveredChannels.Separate => channels > 1,
        _ => true,
    };

    /// <summary>The sheets that can be chosen.</summary>
    public IReadOnlyList<OfferedSheet> Sheets { get; private set; } = [];

    /// <summary>Where this receiver gets something else than its sheet asks for: what, how it is here, how the sheet has it.</summary>
    public IReadOnlyList<(string Name, IReadOnlyList<string> For)> OffSheet => field ??= SheetEdits.Differences(Desk.Receiver, Desk.Session);

    public async Task OnGetAsync(CancellationToken stop) => Sheets = await shelf.AllAsync(Desk.Room.Id, stop);

    /// <summary>Chooses a sheet for this receiver, or none.</summary>
    public async Task<IActionResult> OnPostSheetAsync(int from, string? sheet, CancellationToken stop)
    {
        if (string.IsNullOrEmpty(sheet))
        {
            return await EditReceiversAsync(from, () => SheetEdits.Leave(Desk.Receivers, Desk.Receiver), stop);
        }

        var chosen = (await shelf.AllAsync(Desk.Room.Id, stop)).FirstOrDefault(s => s.Key == sheet);
        return await EditReceiversAsync(from, () => chosen is null ? new Refused("This sheet is not there any more.") : Chosen(chosen), stop);
    }

    /// <summary>Keeps what this receiver gets as a sheet of the room.</summary>
    public async Task<IActionResult> OnPostKeepSheetAsync(int from, string? name, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        try
        {
            var audio = Desk.Preparation.Tracks.Join(Desk.Session.Tracks.Where(t => t.Kind == TrackKind.Audio), c => c.TrackId, t => t.Id, (c, _) => c.Treatment).Where(t => t != Treatment.HoldBack).Distinct().ToList();
            var terms = (Desk.Preparation.Sheet ?? new SheetTerms(string.Empty)) with { Name = (name ?? string.Empty).Trim() };
            await shelf.KeepAsync(Desk.Room.Id, ReceiverSheet.Of(terms, Desk.Preparation, audio.Count == 1 ? audio[0] : null), "the sheet", Desk.Engineer.Name, stop);
            return await Answer("HX-Refresh", "true");
        }
        catch (BadInputException problem)
        {
            return BadRequest(problem.Message);
        }
    }

    /// <summary>Changes one field of one row, or of all marked rows.</summary>
    public Task<IActionResult> OnPostSetAsync(int from, string[] track, string field, string? value, CancellationToken stop) =>
        EditAsync(from, () => Row(new TrackSheetEdits(Desk.Session, Desk.Preparation, track), field, value), stop, SheetAsync);

    /// <summary>Changes what the fields of a form say.</summary>
    public Task<IActionResult> OnPostOptionsAsync(int from, CancellationToken stop) => EditAsync(from, () => Typed(() => Plan.Range.End), stop, SheetAsync);

    /// <summary>The fewest outputs that bring everything, for what this receiver takes.</summary>
    public SmallestSet Fewest => field ??= SmallestSet.Of(Plan, SessionFormats.TakenBy(Desk.Preparation.Sheet));

    public IActionResult OnGetFewest() => Part("_Fewest");

    /// <summary>Whether a package replies to this very session: it is no package to reply to.</summary>
    public bool IsOwnReply(IncomingPackage package) => Desks.Joined(Desk).Leader is { } leader && Desk.Intake.Items.FirstOrDefault(i => i.Id == leader) is { } document && package.FileOf(document.Name) is null;

    /// <summary>Makes this receiver's package the reply to one that was brought in, or no reply.</summary>
    public Task<IActionResult> OnPostReplyAsync(int from, string? manifest, CancellationToken stop) => EditAsync(from, () =>
    {
        var edits = new ReplyEdits(Desk.Intake, Desks.Joined(Desk), Desk.Preparation);
        return string.IsNullOrEmpty(manifest) ? edits.Not() : edits.To(manifest);
    }, stop, () => Answer("HX-Refresh", "true"));

    /// <summary>Lets the fewest outputs go.</summary>
    public Task<IActionResult> OnPostFewestAsync(int from, CancellationToken stop) => EditAsync(from, () => PreparationEdit.TakeSmallest(Desk.Preparation, Fewest), stop, SheetAsync);

    /// <summary>What would go beside what was chosen.</summary>
    public IReadOnlyList<Proposal> Proposed => SheetEdits.Proposed(Desk.Receiver, Desk.Session);

    /// <summary>Takes a proposal, or all.</summary>
    public Task<IActionResult> OnPostProposedAsync(int from, string? proposal, CancellationToken stop) => EditAsync(from, () => SheetEdits.Take(Desk.Receiver, Desk.Session, proposal), stop, SheetAsync);

    /// <summary>Keeps every audio track that goes as clips.</summary>
    public Task<IActionResult> OnPostKeepAsync(int from, CancellationToken stop) =>
        EditAsync(from, () => TrackSheetEdits.TreatAll(Desk.Preparation, Treatment.PrintDry, Treatment.KeepClips, "all audio tracks keep their clips"), stop, SheetAsync);

    /// <summary>Prints every audio track that keeps its clips.</summary>
    public Task<IActionResult> OnPostPrintAsync(int from, CancellationToken stop) =>
        EditAsync(from, () => TrackSheetEdits.TreatAll(Desk.Preparation, Treatment.KeepClips, Treatment.PrintDry, "all audio tracks are printed dry"), stop, SheetAsync);

    /// <summary>Lets stems go, one for each bus, track, or first word of names.</summary>
    public Task<IActionResult> OnPostStemsAsync(int from, string? by, CancellationToken stop) => EditAsync(from, () => new TrackSheetEdits(Desk.Session, Desk.Preparation, []).Stems(by), stop, SheetAsync);

    /// <summary>Changes the pan law, which is the session's, and decided at Intake.</summary>
    public Task<IActionResult> OnPostLawAsync(int from, PanLaw law, CancellationToken stop) => EditIntakeAsync(from, () => new IntakeEdits(Desk.Intake, Desk.Session, Desks.Joined(Desk)).Law(law), stop, SheetAsync);

    /// <summary>Moves the start of all files back to a beat.</summary>
    public Task<IActionResult> OnPostOnBeatAsync(int from, CancellationToken stop) =>
        EditAsync(from, () => PreparationEdit.OnBeat(Desk.Session, Desk.Preparation, Plan.Range.Start), stop, SheetAsync);

    /// <summary>Takes the range of all files from a marker.</summary>
    public Task<IActionResult> OnPostRangeOfAsync(int from, string? marker, CancellationToken stop) =>
        EditAsync(from, () => PreparationEdit.RangeOf(Desk.Session, Desk.Preparation, marker), stop, SheetAsync);

    /// <summary>What receivers get differently.</summary>
    public IReadOnlyList<(string Name, IReadOnlyList<string> For)> Differences => field ??= ReceiverComparison.Of(Desk.Session, Desk.Receivers);

    /// <summary>One more receiver, that gets what this one gets; its sheet is shown then.</summary>
    public Task<IActionResult> OnPostReceiverAsync(int from, string? name, CancellationToken stop) => EditReceiversAsync(
        from, () => new ReceiverEdits(Desk.Receivers).Add(Desk.Receiver, name), stop, () => Answer("HX-Redirect", $"/transfers/{Desk.Id}/prepare?to={Desk.Receivers.Next}"));

    /// <summary>Another name for this receiver.</summary>
    public Task<IActionResult> OnPostRenameAsync(int from, string? name, CancellationToken stop) => EditReceiversAsync(from, () => new ReceiverEdits(Desk.Receivers).Rename(Desk.Receiver, name), stop);

    /// <summary>This receiver leaves.</summary>
    public Task<IActionResult> OnPostRemoveReceiverAsync(int from, CancellationToken stop) => EditReceiversAsync(
        from, () => new ReceiverEdits(Desk.Receivers).Remove(Desk.Receiver), stop, () => Answer("HX-Redirect", $"/transfers/{Desk.Id}/prepare"));

    public IActionResult OnGetSheet() => Part("_TrackSheet");

    /// <summary>The first seconds of the click as it would be built, to listen to.</summary>
    public IActionResult OnGetClick()
    {
        using var click = new ClickPrint(Plan);
        var sound = new MemoryStream();
        var rate = Plan.Forms[FileKind.Click].Rate;
        var frames = Math.Min(Plan.Forms.SpanOf(FileKind.Click).Length, rate.SamplesIn(HeardSeconds).RoundToEven());
        ListeningStream.Write(sound, rate, click.Channels, frames, click.Read, HttpContext.RequestAborted);
        sound.Position = 0;
        return File(sound, "audio/wav");
    }

    /// <summary>What a pattern makes of all names, while it is typed.</summary>
    public IActionResult OnGetNames(string? pattern)
    {
        var typed = (pattern ?? string.Empty).Trim();
        if (NamePattern.Problem(typed) is { } problem)
        {
            return new JsonResult(new { problem });
        }

        var preparation = (Desk.Preparation with { NamePattern = typed }).Dated(DateOnly.FromDateTime(DateTime.UtcNow));
        var (session, going) = TakeTracks.Of(Desk.Session, preparation);
        (session, going) = BeneathTracks.Of(session, going);
        return new JsonResult(new { names = DeliveredNames.Of(session, going), collided = DeliveredNames.Collided(session, going) });
    }

    private Edit<ReceiverList> Chosen(OfferedSheet sheet)
    {
        try
        {
            return SheetEdits.Choose(Desk.Receivers, Desk.Receiver, sheet.Json, sheet.Name, Desk.Session);
        }
        catch (BadInputException problem)
        {
            return new Refused(problem.Message);
        }
    }

    private async Task<IActionResult> SheetAsync()
    {
        await ReloadAsync();
        (_plan, _twice, _names, _collided) = (null, null, null, null);
        Response.Headers["HX-Trigger-After-Settle"] = "sheet-changed";
        return Part("_TrackSheet");
    }

    // What the field of a further form's name begins with; its treatment follows.
    private const string NameBeneath = "name beneath ";

    private static Edit<Preparation> Row(TrackSheetEdits rows, string? field, string? value) => field switch
    {
        "treatment" when Choices.Treatments.ById.TryGetValue(value ?? string.Empty, out var treatment) => rows.Treat(treatment),
        "channels" when Choices.Channels.ById.TryGetValue(value ?? string.Empty, out var channels) => rows.Deliver(channels),
        "inverted" => rows.Invert(value == "true"),
        "take" => rows.Take(value),
        "spares" => rows.Spares(value == "true"),
        "beneath" when Choices.Treatments.ById.TryGetValue(value ?? string.Empty, out var form) => rows.Beneath(form, goes: true),
        "not beneath" when Choices.Treatments.ById.TryGetValue(value ?? string.Empty, out var form) => rows.Beneath(form, goes: false),
        "without" => rows.Without((value ?? string.Empty).Split('\n', StringSplitOptions.RemoveEmptyEntries)),
        _ when field?.StartsWith(NameBeneath, StringComparison.Ordinal) == true && Choices.Treatments.ById.TryGetValue(field[NameBeneath.Length..], out var form) => rows.NameBeneath(form, value),
        "oversampled" when (value ?? string.Empty).Split('\n') is [var effect, var times] && int.TryParse(times, CultureInfo.InvariantCulture, out var factor) => rows.Oversample(effect, factor),
        "marked" => rows.Mark(value == "true"),
        "group" => rows.Group(value),
        "name" => rows.Name(value),
        "everything" => rows.Everything(),
        "others back" => rows.HoldOthers(),
        "sort" => rows.Sort(value),
        "before" => rows.MoveBefore(value),
        "move" => rows.Move(down: value != "up"),
        _ => new Refused("There is no such choice."),
    };
}
