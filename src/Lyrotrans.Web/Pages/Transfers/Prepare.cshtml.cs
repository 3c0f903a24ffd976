using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Core.Positions;
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
    public async Task<IActionResult> OnPostSetAsync(int from, string[] track, string field, string? value, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return Stale();
        }

        var names = Desk.Session.Tracks.ToDictionary(t => t.Id);
        var marked = track.Where(names.ContainsKey).ToHashSet();
        if (marked.Count == 0)
        {
            return BadRequest("No such track.");
        }

        if (field == "name" && !Desk.Preparation.NamePattern.Contains("{track}", StringComparison.Ordinal))
        {
            return BadRequest("The name pattern has no {track}, so a typed name has no place in it. Put {track} into the pattern first.");
        }

        value = field == "name" ? TypedName(marked.First(), value) : value;
        var rows = Desk.Preparation.Tracks.Select(c => marked.Contains(c.TrackId) ? Changed(c, names[c.TrackId], field, value) : c).ToValueArray();
        var changed = Desk.Preparation with { Tracks = field == "move" ? Moved(marked.First(), value == "up" ? -1 : 1) : rows };
        if (changed == Desk.Preparation)
        {
            return await SheetAsync();
        }

        var who = marked.Count == 1 ? names[marked.First()].Name : $"{marked.Count} tracks";
        await Desks.CommitAsync(Desk, $"{who}: {FieldWords(field, value)}", preparation: changed, stop: stop);
        return await SheetAsync();
    }

    public async Task<IActionResult> OnPostRangeAsync(
        int from, string pattern, RangeStart start, string? chosen, bool toChosen, string? chosenEnd, string? tail, SoundContainer container, SampleEncoding encoding, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return Stale();
        }

        var session = Desk.Session;
        if (NamePattern.Problem(pattern) is { } problem)
        {
            return BadRequest(problem);
        }

        tail ??= TailSeconds;
        var end = !toChosen ? null : chosenEnd is null ? Plan.Range.End : PositionText.Parse(session, "timecode", chosenEnd) ?? PositionText.Parse(session, "samples", chosenEnd);
        if (toChosen && end is null)
        {
            return BadRequest($"\"{chosenEnd}\" is no timecode and no sample.");
        }

        if (!Rational.TryParse(tail.Trim().TrimEnd('s').Trim(), out var seconds) || seconds.Sign < 0 || seconds > 3600)
        {
            return BadRequest($"\"{tail}\" is no tail; it is 0 to 3600 seconds.");
        }

        var sample = chosen is null ? Desk.Preparation.ChosenStart : PositionText.Parse(session, "timecode", chosen) ?? PositionText.Parse(session, "samples", chosen);
        if (sample is not { } at)
        {
            return BadRequest($"\"{chosen}\" is no timecode and no sample.");
        }

        if (!Preparation.Encodings.Contains(encoding) || !Enum.IsDefined(container))
        {
            return BadRequest("Files are 16, 24 or 32 bit, or 32 bit float.");
        }

        if (!Preparation.CanHold(container, encoding))
        {
            return BadRequest(container == SoundContainer.Flac && encoding.IsFloat() ? "FLAC holds no float. Take WAV for 32 bit float, or 24 bit for FLAC." : $"{container.ToString().ToUpperInvariant()} does not hold {encoding.Words()}. Take WAV, or 24 bit.");
        }

        var changed = Desk.Preparation with
        {
            NamePattern = pattern.Trim(),
            From = start,
            ChosenStart = at,
            ChosenEnd = end,
            Tail = session.Rate.SamplesIn(seconds).RoundToEven(),
            Container = container,
            Encoding = encoding,
        };
        if (changed != Desk.Preparation)
        {
            await Desks.CommitAsync(Desk, RangeWords(Desk.Preparation, changed), preparation: changed, stop: stop);
        }

        return await SheetAsync();
    }

    /// <summary>Changes how MIDI and the click go.</summary>
    public async Task<IActionResult> OnPostMusicAsync(int from, GridAndClickForm choices, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return Stale();
        }

        var (changed, problem) = choices.Apply(Desk.Preparation);
        if (changed is null)
        {
            return BadRequest(problem!);
        }

        if (changed != Desk.Preparation)
        {
            await Desks.CommitAsync(Desk, GridAndClickForm.Words(Desk.Preparation, changed), preparation: changed, stop: stop);
        }

        return await SheetAsync();
    }

    /// <summary>Changes what goes along besides the tracks, and how sound files are finished.</summary>
    public async Task<IActionResult> OnPostMixAsync(int from, MixForm choices, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return Stale();
        }

        var (changed, problem) = choices.Apply(Desk.Session, Desk.Preparation);
        if (changed is null)
        {
            return BadRequest(problem!);
        }

        if (choices.PanLaw != Desk.Session.PanLaw)
        {
            await Desks.CommitIntakeAsync(Desk, $"pan law {choices.PanLaw.Words()}", Desk.Intake with { PanLaw = choices.PanLaw }, stop);
        }
        else if (MixForm.Words(Desk.Preparation, changed) is { Length: > 0 } words)
        {
            await Desks.CommitAsync(Desk, words, preparation: changed, stop: stop);
        }

        return await SheetAsync();
    }

    public IActionResult OnGetMix() => Partial("_Mix", this);

    /// <summary>Moves the start of all files back to a beat, so that the grid begins on one.</summary>
    public async Task<IActionResult> OnPostOnBeatAsync(int from, CancellationToken stop)
    {
        if (from != Desk.Revision?.Number)
        {
            return Stale();
        }

        var session = Desk.Session;
        var beat = session.Meters.PositionAt(session.Clock.QuarterAt(Plan.Range.Start)) with { Tick = Rational.Zero };
        var start = session.Clock.SampleAt(session.Meters.QuarterOf(beat));
        var changed = Desk.Preparation with { From = RangeStart.Chosen, ChosenStart = start };
        await Desks.CommitAsync(Desk, $"files from {beat}, on a beat", preparation: changed, stop: stop);
        return await SheetAsync();
    }

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

    private ConflictObjectResult Stale() => new("The track sheet was changed in the meantime. It is loaded again; make your change once more.");

    private static TrackChoice Changed(TrackChoice choice, Track track, string field, string? value) => field switch
    {
        "treatment" when Enum.TryParse<Treatment>(value, out var treatment) && Preparation.TreatmentsOf(track).Contains(treatment) => choice with { Treatment = treatment },
        "channels" when Enum.TryParse<DeliveredChannels>(value, out var channels) && Enum.IsDefined(channels) => choice with { Channels = channels },
        "inverted" => choice with { Inverted = value == "true" },
        "group" => choice with { Group = string.IsNullOrWhiteSpace(value) ? null : value.Trim() },
        "name" => choice with { Name = string.IsNullOrWhiteSpace(value) ? null : value.Trim() },
        "go" => choice with { Treatment = Preparation.TreatmentsOf(track)[0] },
        _ => choice,
    };

    /// <summary>The track's part of a name that was typed: what the pattern puts around it is taken off.</summary>
    private string? TypedName(string track, string? value)
    {
        var going = Desk.Preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack).ToList();
        var order = going.FindIndex(c => c.TrackId == track) + 1;
        var around = NamePattern.Fill(Desk.Preparation.NamePattern.Replace("{track}", "\n", StringComparison.Ordinal), order, going.Count > 99 ? 3 : 2, string.Empty, Desk.Session.Name).Split('\n');
        var name = (value ?? string.Empty).Trim();
        name = name.StartsWith(around[0], StringComparison.Ordinal) ? name[around[0].Length..] : name;
        return around[^1].Length > 0 && name.EndsWith(around[^1], StringComparison.Ordinal) ? name[..^around[^1].Length] : name;
    }

    private ValueArray<TrackChoice> Moved(string track, int by)
    {
        var rows = Desk.Preparation.Tracks.ToList();
        var at = rows.FindIndex(r => r.TrackId == track);
        var to = Math.Clamp(at + by, 0, rows.Count - 1);
        (rows[at], rows[to]) = (rows[to], rows[at]);
        return rows.ToValueArray();
    }

    private static string FieldWords(string field, string? value) => field switch
    {
        "treatment" => Enum.TryParse<Treatment>(value, out var treatment) ? Words(treatment) : "treatment",
        "group" => string.IsNullOrWhiteSpace(value) ? "stem by its bus" : $"stem {value.Trim()}",
        "inverted" => value == "true" ? "polarity inverted" : "polarity as it is",
        "channels" => $"channels {value?.ToLowerInvariant()}",
        "name" => string.IsNullOrWhiteSpace(value) ? "name from the pattern" : $"delivered as {value.Trim()}",
        "move" => $"moved {value}",
        _ => "goes",
    };

    private static string RangeWords(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        before.NamePattern != after.NamePattern ? $"names by {after.NamePattern}" : null,
        before.From != after.From || before.ChosenStart != after.ChosenStart
            ? after.From switch { RangeStart.Bar1 => "files from bar 1", RangeStart.Chosen => $"files from sample {after.ChosenStart}", _ => "files from session start" } : null,
        before.ChosenEnd != after.ChosenEnd ? after.ChosenEnd is { } sample ? $"files to sample {sample}" : "files to the last sound" : null,
        before.Tail != after.Tail ? $"tail {after.Tail} samples" : null,
        before.Container != after.Container ? $"as {after.Container.ToString().ToUpperInvariant()}" : null,
        before.Encoding != after.Encoding ? after.Encoding.Words() : null,
    }.OfType<string>());
}
