using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>What became of a session when a source went or another took its place, track by track.</summary>
public static class SessionChange
{
    private const int MostNamed = 4;

    /// <summary>In words for a revision; says so where nothing did.</summary>
    public static string Words(Session before, Session after)
    {
        var (old, now) = (Known(before), Known(after));
        var gone = old.Where(t => !now.ContainsKey(t.Key)).Select(t => t.Value.Name).ToList();
        var fresh = now.Where(t => !old.ContainsKey(t.Key)).Select(t => t.Value.Name).ToList();
        var changed = now.Where(t => old.TryGetValue(t.Key, out var was) && Differs(was, t.Value)).Select(t => t.Value.Name).ToList();
        var words = new[] { Said("gone", gone), Said("new", fresh), Said("changed", changed) }.Where(w => w.Length > 0).ToList();
        return words.Count == 0 ? "every track is as it was" : string.Join("; ", words);
    }

    // By its id, or by its name where it is alone in having it: another export may number tracks anew.
    private static Dictionary<string, Track> Known(Session session) => session.Tracks.GroupBy(t => t.Name).SelectMany(g => g.Count() == 1 ? [(g.Key, g.First())] : g.Select(t => (t.Id, t)))
        .DistinctBy(p => p.Item1).ToDictionary(p => p.Item1, p => p.Item2);

    // Ids are the writer's own affair.
    private static bool Differs(Track before, Track after) => Bare(before) != Bare(after);

    private static Track Bare(Track track) => track with
    {
        Id = string.Empty,
        Of = [],
        Lanes = [.. track.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Id = string.Empty, Media = string.Empty, Source = null })] })],
        Parts = [.. track.Parts.Select(p => p with { Id = string.Empty })],
    };

    private static string Said(string what, List<string> names) => names.Count == 0 ? string.Empty
        : $"{what}: {Phrases.List([.. names.Take(MostNamed), .. names.Count > MostNamed ? [$"{names.Count - MostNamed} more"] : Array.Empty<string>()], "and")}";
}
