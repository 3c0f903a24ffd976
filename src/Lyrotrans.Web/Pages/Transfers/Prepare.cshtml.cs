using System.Globalization;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Editing;
using Microsoft.AspNetCore.Mvc;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The track sheet: what each track becomes, in which order and under which name. Every change is a revision.</summary>
public sealed class PrepareModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    private DeliveryPlan? _plan;
    private IReadOnlyList<string>? _twice;

    public override string StageName => "Prepare";

    public override IReadOnlyList<(string Key, string Does)> Keys =>
    [
        ("↑ ↓", "row"), ("t", "treatment"), ("n", "name"), ("c", "channels"), ("p", "polarity"), ("x", "mark the row"), ("Shift ↑ ↓", "move the row"), ("b", "to Build"),
    ];

    public DeliveryPlan Plan => _plan ??= Desks.Plan(Desk);

    public IReadOnlyDictionary<string, string> Names => DeliveredNames.Of(Desk.Session, Desk.Preparation);

    /// <summary>Above this tempo, in quarters a minute, some readers of MIDI files refuse or clamp it.</summary>
    public const double UneasyTempo = 500;

    public MidiGrid Grid => new(Desk.Session, Plan.Range.Start);

    /// <summary>How far the grid strays from the sound when every beat is kept within a sample.</summary>
    public TempoDrift Corrected => Desks.Drift(Desk, Plan, TempoForm.Corrected);

    /// <summary>The same with one event for each tempo.</summary>
    public TempoDrift Plain => Desks.Drift(Desk, Plan, TempoForm.Plain);

    /// <summary>Effects in the way of the stems that bend their sum.</summary>
    public IReadOnlyList<BentPath> Bent => Workflow.Proving.StemSumProof.NotLinear(Plan);

    public string LongestTail => Desk.Session.Rate.SecondsOf(new Tails(Desk.Session, Desk.Preparation).Limit).ToDouble().ToString("0.###", CultureInfo.InvariantCulture);

    public string TailSeconds => Desk.Session.Rate.SecondsOf(Desk.Preparation.Tail).ToDouble().ToString("0.000", CultureInfo.InvariantCulture);

    public string Headline
    {
        get
        {
            var going = Desk.Preparation.Tracks.Count(t => t.Treatment != Treatment.HoldBack);
            return $"{going} {(going == 1 ? "track goes" : "tracks go")}, {Desk.Preparation.Tracks.Count - going} do not";
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

    public static string Words(Treatment treatment) => treatment.Words();

    public static string Words(Treatment treatment, Track track) => treatment == Treatment.HoldBack && track.Kind is not (TrackKind.Audio or TrackKind.Notes) ? "record only" : treatment.Words();

    /// <summary>The stem that a track goes into where nothing is typed in.</summary>
    public string StemOf(string trackId) => StemGroup.Of(Desk.Session, Desk.Preparation).FirstOrDefault(g => g.Tracks.Contains(trackId))?.Name ?? string.Empty;

    public static string FateOf(Treatment treatment) => treatment.IsPrint() ? "printed" : treatment == Treatment.HoldBack ? "held" : "carried";

    public static string ChannelWords(int channels) => channels switch { 1 => "mono", 2 => "stereo", _ => $"{channels} channels" };

    public void OnGet()
    {
    }

    /// <summary>Changes one field of one row, or of all marked rows.</summary>
    public Task<IActionResult> OnPostSetAsync(int from, string[] track, string field, string? value, CancellationToken stop) =>
        EditAsync(from, () => Row(new TrackSheetEdits(Desk.Session, Desk.Preparation, track), field, value), stop, SheetAsync);

    /// <summary>Changes names, range and format of the files from zero.</summary>
    public Task<IActionResult> OnPostRangeAsync(int from, FilesEdit choices, CancellationToken stop) =>
        EditAsync(from, () => choices.Apply(Desk.Session, Desk.Preparation, Plan.Range.End), stop, SheetAsync);

    /// <summary>Changes how MIDI and the click go.</summary>
    public Task<IActionResult> OnPostMusicAsync(int from, GridAndClickEdit choices, CancellationToken stop) =>
        EditAsync(from, () => choices.Apply(Desk.Preparation), stop, SheetAsync);

    /// <summary>Changes what goes along besides the tracks, and how sound files are finished; the pan law is the session's, and decided at Intake.</summary>
    public async Task<IActionResult> OnPostMixAsync(int from, MixEdit choices, CancellationToken stop)
    {
        var mix = choices.Apply(Desk.Session, Desk.Preparation);
        return mix.Problem is null && choices.PanLaw != Desk.Session.PanLaw
            ? await EditIntakeAsync(from, () => choices.Law(Desk.Intake), stop, SheetAsync)
            : await EditAsync(from, () => mix, stop, SheetAsync);
    }

    /// <summary>Moves the start of all files back to a beat.</summary>
    public Task<IActionResult> OnPostOnBeatAsync(int from, CancellationToken stop) =>
        EditAsync(from, () => FilesEdit.OnBeat(Desk.Session, Desk.Preparation, Plan.Range.Start), stop, SheetAsync);

    public IActionResult OnGetMix() => Partial("_Mix", this);

    public IActionResult OnGetMusic() => Partial("_GridAndClick", this);

    public IActionResult OnGetArrive() => Partial("_Arrive", this);

    public IActionResult OnGetSheet() => Partial("_TrackSheet", this);

    private async Task<IActionResult> SheetAsync()
    {
        await ReloadAsync();
        (_plan, _twice) = (null, null);
        Response.Headers["HX-Trigger"] = "sheet-changed";
        return Partial("_TrackSheet", this);
    }

    private static Edit<Preparation> Row(TrackSheetEdits rows, string field, string? value) => field switch
    {
        "treatment" when Enum.TryParse<Treatment>(value, out var treatment) && Enum.IsDefined(treatment) => rows.Treat(treatment),
        "channels" when Enum.TryParse<DeliveredChannels>(value, out var channels) && Enum.IsDefined(channels) => rows.Deliver(channels),
        "inverted" => rows.Invert(value == "true"),
        "group" => rows.Group(value),
        "name" => rows.Name(value),
        "go" => rows.Go(),
        "move" => rows.Move(down: value != "up"),
        _ => new Refused("There is no such choice."),
    };
}
