using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What is otherwise in another state of a transfer: of the session object by object, and of what each receiver gets.</summary>
/// <param name="Session">A row for each value that differs, with both.</param>
/// <param name="Receivers">The same of each receiver's preparation.</param>
/// <param name="Tracks">Tracks whose clips or notes differ, as they are in both; null where one has none.</param>
public sealed record RevisionComparison(
    IReadOnlyList<ProofRow> Session, IReadOnlyList<(string Receiver, string Name, string Before, string After)> Receivers, IReadOnlyList<(Track? Before, Track? After)> Tracks)
{
    /// <summary>Whether nothing is otherwise.</summary>
    public bool IsSame => Session.Count == 0 && Receivers.Count == 0;

    /// <summary>Compares two states.</summary>
    public static RevisionComparison Of(Session before, ReceiverList receiversBefore, Session after, ReceiverList receiversAfter) => new(
        [.. SessionComparison.Compare(before with { Markers = after.Markers }, after).Where(r => !r.Passed), .. Markers(before, after)], [.. Gets(before, receiversBefore, after, receiversAfter)], Changed(before, after));

    private static IEnumerable<(string, string, string, string)> Gets(Session before, ReceiverList receiversBefore, Session after, ReceiverList receiversAfter)
    {
        const string NotThere = "not there";
        foreach (var was in receiversBefore.All)
        {
            if (receiversAfter[was.Id] is not { } now)
            {
                yield return (was.Called, "receiver", "there", NotThere);
                continue;
            }

            if (was.Name != now.Name)
            {
                yield return (now.Called, "name", was.Called, now.Called);
            }

            // Both as they would be for the session as it is now, so that a track which came or went is no change of every choice.
            var pair = ReceiverList.One(was.Name, was.Preparation.For(after, before)).Copied(now, now.Name);
            foreach (var (name, values) in ReceiverComparison.Of(after, pair))
            {
                yield return (now.Called, name, values[0], values[1]);
            }

            if (was.Preparation.Answers != now.Preparation.Answers)
            {
                yield return (now.Called, "answers to flags", Digits.Grouped(was.Preparation.Answers.Count), Digits.Grouped(now.Preparation.Answers.Count));
            }
        }

        foreach (var fresh in receiversAfter.All.Where(r => receiversBefore[r.Id] is null))
        {
            yield return (fresh.Called, "receiver", NotThere, "there");
        }
    }

    // By what they are and not by their number: one that was set moves the numbers of all behind it.
    private static IEnumerable<ProofRow> Markers(Session before, Session after)
    {
        var (old, now) = (before.Markers.DistinctBy(m => m.Id).ToDictionary(m => m.Id), after.Markers.DistinctBy(m => m.Id).ToDictionary(m => m.Id));
        return old.Keys.Union(now.Keys).Where(id => old.GetValueOrDefault(id) != now.GetValueOrDefault(id))
            .Select(id => new ProofRow($"Marker {(now.GetValueOrDefault(id) ?? old[id]).Text}", "place", Words(old.GetValueOrDefault(id)), Words(now.GetValueOrDefault(id)), string.Empty, false));
        static string Words(Marker? marker) => marker is null ? "not there" : $"{marker.Text} at {Digits.Grouped(marker.Sample)}{(marker.Length > 0 ? $", {Digits.Grouped(marker.Length)} long" : string.Empty)}";
    }

    private static List<(Track? Before, Track? After)> Changed(Session before, Session after)
    {
        var (old, now) = (before.Tracks.ToDictionary(t => t.Id), after.Tracks.ToDictionary(t => t.Id));
        var places = before.Bar1Sample == after.Bar1Sample && before.Tempo.Equals(after.Tempo);
        return
        [
            .. after.Tracks.Select(t => (Before: old.GetValueOrDefault(t.Id), After: (Track?)t)).Where(p => p.Before is null || p.Before.Lanes != p.After!.Lanes || p.Before.SoundingLane != p.After.SoundingLane || p.Before.Parts != p.After.Parts || (!places && p.After.Parts.Count > 0)),
            .. before.Tracks.Where(t => !now.ContainsKey(t.Id)).Select(t => ((Track?)t, (Track?)null)),
        ];
    }
}
