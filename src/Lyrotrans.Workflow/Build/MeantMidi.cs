using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Workflow.Build;

/// <summary>The MIDI files that a plan means. Each carries the whole map, so that each can be brought in alone.</summary>
public static class MeantMidi
{
    /// <param name="plan">The plan.</param>
    /// <param name="file">One of its MIDI files: the session's, or one part's.</param>
    public static SmfFile Of(DeliveryPlan plan, PlannedFile file) =>
        MidiExport.Make(plan.Musical, plan.TimelineRange.Start, plan.Preparation.Midi, file.PartId is null ? Whole(plan) : Part(plan, file));

    /// <summary>How far the plan's grid strays from the sound, with tempo in a form.</summary>
    public static TempoDrift Drift(DeliveryPlan plan, TempoForm form) => MidiExport.Drift(plan.Musical, plan.TimelineRange.Start, form);

    /// <summary>The same in every form of tempo.</summary>
    public static IReadOnlyDictionary<TempoForm, TempoDrift> Drifts(DeliveryPlan plan) => MidiExport.Drifts(plan.Musical, plan.TimelineRange.Start);

    private static IEnumerable<Track> Whole(DeliveryPlan plan)
    {
        var notes = plan.Preparation.Midi.Form == MidiForm.FilePerPart ? [] : plan.NotesTracks();
        return plan.Preparation.Click.Midi ? notes.Append(ClickTrack.Notes(plan.Timeline, plan.Preparation.Click, plan.TimelineRange)) : notes;
    }

    private static IEnumerable<Track> Part(DeliveryPlan plan, PlannedFile file) => plan.NotesTracks()
        .Where(t => t.Id == file.TrackId)
        .Select(t => t with { Name = $"{t.Name}, {t.Parts.First(p => p.Id == file.PartId).Name}", Parts = [t.Parts.First(p => p.Id == file.PartId)] });
}
