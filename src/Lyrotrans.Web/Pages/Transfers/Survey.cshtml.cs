using System.Globalization;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Surveying;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Microsoft.AspNetCore.Mvc;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Everything on one timeline, and the tempo map under it.</summary>
public sealed class SurveyModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys =>
    [
        ("← →", "move"), ("+ −", "closer, wider"), ("p", "picture"), ("f", "next flag"), ("Shift ← →", "move a whole view"), ("↑ ↓", "track"),
        ("[ ]", "clip or note before, after"), ("h", "to the start"), ("e", "to the end"), ("w", "whole session"), ("s", "single samples"),
        ("a", "listen, stop"), ("o", "solo: the selected track"), ("m", "tempo, meters, keys"), ("b", "tap a tempo"), ("n", "marker at the position"), (", .", "range from, to the position"), ("x", "no range"), ("t", "take alone: r raw, p print, n notes, b bundle"),
    ];

    /// <summary>What a drafted map would do; nothing is kept.</summary>
    public IActionResult OnPostMapPreview([FromBody] MapDraft? draft) => With(draft, map => new JsonResult(MapPreview.Of(Desk.Session, map)));

    /// <summary>Puts a drafted map under the session.</summary>
    public async Task<IActionResult> OnPostMapAsync([FromBody] MapDraft? draft, CancellationToken stop)
    {
        if (draft is { IsWhole: true } && Stale(draft.From) is { } stale)
        {
            return stale;
        }

        MusicMap? made = null;
        var answer = With(draft, map =>
        {
            made = map;
            return new NoContentResult();
        });
        if (made is not null && made != MusicMap.Of(Desk.Session))
        {
            var intake = Desk.Intake with { MapEdits = [.. Desk.Intake.MapEdits, MapEdit.Of(Desk.Session, made, draft!.Anchors)] };
            await Desks.CommitIntakeAsync(Desk, Words(MusicMap.Of(Desk.Session), made), intake, stop);
        }

        return answer;
    }

    /// <summary>Accepts a kind of flag, notes something about it for the receiver, or opens it again.</summary>
    public Task<IActionResult> OnPostAnswerAsync(int from, string flag, bool accepted, string? note, CancellationToken stop) =>
        EditAsync(from, () => Of(flag, group => FlagMends.Answer(Desk.Preparation, group, accepted, note)), stop);

    /// <summary>Mends a kind of flag by one step of the preparation.</summary>
    public Task<IActionResult> OnPostMendAsync(int from, string flag, CancellationToken stop) =>
        EditAsync(from, () => Of(flag, group => FlagMends.Mend(Desk.Session, Desk.Preparation, group)), stop);

    /// <summary>Says something of a track or a clip.</summary>
    public Task<IActionResult> OnPostNoteAsync(int from, string track, string? clip, string? text, CancellationToken stop) =>
        EditIntakeAsync(from, () => new IntakeEdits(Desk.Intake, Desk.Session, Desks.Joined(Desk)).Note(track, clip, text), stop);

    /// <summary>Sets a marker, or changes one.</summary>
    public Task<IActionResult> OnPostMarkerAsync(int from, string? marker, string? text, string kind, string? place, string? length, CancellationToken stop) =>
        EditIntakeAsync(from, () => new MarkerEdits(Desk.Intake, Desk.Session).Set(marker, text, kind, place, length), stop);

    /// <summary>Takes a marker away.</summary>
    public Task<IActionResult> OnPostUnmarkAsync(int from, string? marker, CancellationToken stop) =>
        EditIntakeAsync(from, () => new MarkerEdits(Desk.Intake, Desk.Session).Remove(marker), stop);

    private Edit<Preparation> Of(string flag, Func<FlagGroup, Edit<Preparation>> edit) =>
        Desks.Flags(Desk).FirstOrDefault(g => g.Kind.Code == flag) is { } group ? edit(group) : new Refused("This flag is gone; nothing has to be done about it.");

    private IActionResult With(MapDraft? draft, Func<MusicMap, IActionResult> use)
    {
        if (draft is not { IsWhole: true })
        {
            return BadRequest("This is no tempo map.");
        }

        try
        {
            return use(draft.Parse(Desk.Session));
        }
        catch (FormatException problem)
        {
            return BadRequest(problem.Message);
        }
    }

    private static string Words(MusicMap before, MusicMap after) => "tempo map: " + string.Join(", ", new[]
    {
        before.Tempo == after.Tempo ? null : string.Create(CultureInfo.InvariantCulture, $"{Phrases.Count(after.Tempo.Points.Count, "tempo")} from {after.Tempo.Points[0].QuartersPerMinute.ToDouble():0.##} to {after.Tempo.Points[^1].QuartersPerMinute.ToDouble():0.##}"),
        before.Meters == after.Meters ? null : string.Join(" ", after.Meters.Changes.Take(4).Select(m => $"{m} at {m.Bar}")),
        before.Keys == after.Keys ? null : Phrases.Count(after.Keys.Count, "key"),
        before.Bar1Sample == after.Bar1Sample ? null : $"bar 1 at {Digits.Grouped(after.Bar1Sample)}",
    }.OfType<string>());
}
