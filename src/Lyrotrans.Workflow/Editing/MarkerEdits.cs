using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Markers set, moved, renamed and taken away by the engineer.</summary>
/// <param name="before">The intake as it stands.</param>
/// <param name="session">The session that its sources make.</param>
public sealed class MarkerEdits(IntakeState before, Session session)
{
    private const int LongestText = 200;

    /// <summary>Sets a marker, or gives one another name, place or length.</summary>
    /// <param name="id">Of the marker; null for a new one.</param>
    /// <param name="text">Its name.</param>
    /// <param name="kind">What its place is said in: samples, timecode, bars or seconds.</param>
    /// <param name="place">Where it lies.</param>
    /// <param name="length">Of a section, in samples; nothing or 0 for a point.</param>
    public Edit<IntakeState> Set(string? id, string? text, string kind, string? place, string? length)
    {
        var old = session.Markers.FirstOrDefault(m => m.Id == id);
        var name = (text ?? string.Empty).Trim();
        if (!string.IsNullOrEmpty(id) && old is null)
        {
            return new Refused("This marker is gone.");
        }

        if (name.Length is 0 or > LongestText || name.Any(char.IsControl))
        {
            return new Refused($"A marker has a name of 1 to {LongestText} characters.");
        }

        if (PositionText.Parse(session, kind, place ?? string.Empty) is not { } sample)
        {
            return new Refused($"\"{place}\" is no place in {kind}.");
        }

        var span = string.IsNullOrWhiteSpace(length) ? 0 : PositionText.Parse(session, "samples", length) ?? -1;
        if (span < 0)
        {
            return new Refused($"\"{length}\" is no length in samples; a point has none.");
        }

        var made = new Marker(old?.Id ?? FreeId(), name, sample, span) { By = old?.By ?? string.Empty, Date = old?.Date ?? string.Empty };
        return made == old ? new Refused("Nothing is otherwise.") : With(made.Id, made, old, old is null ? $"marker {name} at {Digits.Grouped(sample)}"
            : old.Text != name ? $"marker {old.Text} is {name}" : $"marker {name} from {Digits.Grouped(old.Sample)} to {Digits.Grouped(sample)}{(span == old.Length ? string.Empty : $", {Digits.Grouped(span)} long")}");
    }

    /// <summary>Takes a marker away.</summary>
    public Edit<IntakeState> Remove(string? id) => session.Markers.FirstOrDefault(m => m.Id == id) is { } old ? With(old.Id, null, old, $"marker {old.Text} taken away") : new Refused("This marker is gone.");

    private Edit<IntakeState> With(string id, Marker? marker, Marker? was, string words) => new(before with { MarkerEdits = [.. before.MarkerEdits, new MarkerEdit(id, marker, before.MapEdits.Count, was)] }, words, null);

    private string FreeId()
    {
        var taken = session.Markers.Select(m => m.Id).Concat(before.MarkerEdits.Select(e => e.Id)).ToHashSet();
        return Enumerable.Range(1, int.MaxValue).Select(n => FormattableString.Invariant($"set-{n}")).First(n => !taken.Contains(n));
    }
}
