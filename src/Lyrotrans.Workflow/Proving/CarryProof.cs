using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Counts what was found in the outputs of a package, and holds it against what the carry plan says of them.</summary>
public sealed class CarryProof(DeliveryPlan plan)
{
    private long _notes;
    private long _controllers;
    private long _clips;
    private long? _markers;

    /// <summary>Hears of the tracks of a MIDI file that was found.</summary>
    /// <param name="notes">How many notes they have together.</param>
    /// <param name="controllers">How many controllers, programs and the like.</param>
    public void Midi(long notes, long controllers) => (_notes, _controllers) = (_notes + notes, _controllers + controllers);

    /// <summary>Hears of the clips of a file of clips that was found.</summary>
    public void Clips(Session found) => _clips += found.Tracks.Where(t => t.Kind == TrackKind.Audio).Sum(t => (long)(t.Sounding?.Clips.Count ?? 0));

    /// <summary>Hears of the markers of a list that was found.</summary>
    public void Markers(long found) => _markers = found;

    /// <summary>A row for each output that was counted.</summary>
    public IEnumerable<ProofRow> Rows()
    {
        var carry = CarryPlan.Of(plan);
        yield return Row("notes in MIDI", Planned(carry, CarryPlan.Notes, OutputKind.Midi, InMidi) + ClickNotes(), _notes);
        yield return Row("controllers in MIDI", Planned(carry, CarryPlan.Controllers, OutputKind.Midi, InMidi), _controllers);
        if (plan.Clips is { } clips)
        {
            var output = carry.Outputs.Single(o => o.Kind == OutputKind.Clips);
            yield return Row($"clips in {plan.Preparation.Clips.Format}", clips.Tracks.Sum(t => (long)carry.ClipsOf(output, t.TrackId) * t.Became.Count), _clips);
        }

        if (_markers is { } markers)
        {
            yield return Row("markers in the list", Planned(carry, CarryPlan.Markers, OutputKind.MarkerList, _ => 1), markers);
        }
    }

    private static long Planned(CarryPlan carry, string kind, OutputKind output, Func<CarryObject, long> times)
    {
        var (column, row) = (carry.Outputs.ToList().FindIndex(o => o.Kind == output), carry.Rows.FirstOrDefault(r => r.Kind == kind));
        return row is null || column < 0 ? 0 : row.Objects.Where(o => o.Fates[column] is Fate.Carried or Fate.Converted).Sum(times);
    }

    // A further form that has notes brings them once more.
    private long InMidi(CarryObject item) => plan.Preparation.Tracks.Count(c => (c.Of ?? c.TrackId) == item.TrackId && c.Treatment.HasNotes());

    private long ClickNotes() => plan.Preparation.Click.Midi ? Core.Clicking.ClickTrack.Beats(plan.Timeline, plan.Preparation.Click, plan.TimelineRange).Count : 0;

    private static ProofRow Row(string what, long meant, long found) => new("Carry plan", what, Digits.Grouped(meant), Digits.Grouped(found), Digits.Grouped(found - meant), meant == found);
}
