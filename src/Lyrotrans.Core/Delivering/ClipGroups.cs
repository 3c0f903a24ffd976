using System.Globalization;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>Which tracks of a clip plan go into which file: all into one, a file a stem or bus, and what lies muted beneath into one of its own, unless the receiver reads muted clips.</summary>
public static class ClipGroups
{
    /// <summary>The label of files of what lies muted beneath something else.</summary>
    public const string Beneath = "beneath";

    /// <summary>One plan for each file; one that would be too large becomes several.</summary>
    public static ValueArray<ClipPlan> Of(ClipPlan plan, Session session, Preparation preparation)
    {
        var (spares, roles, tracks) = (TakeTracks.SparesIn(preparation), TrackRoles.Of(session), session.Tracks.ToDictionary(t => t.Id));
        var apart = preparation.Sheet?.MutedClips != true;
        var choices = preparation.Tracks.ToDictionary(c => c.TrackId);
        var labels = new Dictionary<string, string>();
        foreach (var (id, became) in plan.Tracks)
        {
            var choice = choices[id];
            var label = apart && (choice.Of is not null || spares.Contains(id)) ? Beneath : preparation.Clips.PerGroup ? StemNames.Of(choice, tracks, roles) : string.Empty;
            foreach (var one in became)
            {
                labels[one] = label;
            }
        }

        // What has no clips (notes, buses) goes with the first group that has.
        var groups = plan.Session.Tracks.Where(t => labels.ContainsKey(t.Id)).GroupBy(t => labels[t.Id]).OrderBy(g => g.Key == Beneath ? 1 : 0).ToList();
        var others = plan.Session.Tracks.Where(t => !labels.ContainsKey(t.Id)).ToList();
        return groups.Count == 1 && groups[0].Key.Length == 0
            ? ClipParts.Of(plan, preparation.Clips)
            : groups.SelectMany((g, i) => ClipParts.Of(ClipParts.Part(plan, [.. g, .. i == 0 ? others : []]) with { Label = g.Key }, preparation.Clips)).ToValueArray();
    }

    /// <summary>What the names of the files end with: the group, and a number where a group has several files.</summary>
    public static IReadOnlyList<string> Suffixes(ValueArray<ClipPlan> parts)
    {
        var groups = parts.GroupBy(p => p.Label).ToDictionary(g => g.Key, g => g.ToList());
        var labels = LegalName.Unique(groups.Keys.Select(k => k.Length == 0 ? "main" : LegalName.From(k)));
        var names = groups.Keys.Zip(labels).ToDictionary(p => p.First, p => p.First.Length == 0 ? string.Empty : $"_{p.Second}");
        return [.. parts.Select(p => groups[p.Label] is { Count: > 1 } several ? string.Create(CultureInfo.InvariantCulture, $"{names[p.Label]}_{several.IndexOf(p) + 1}_of_{several.Count}") : names[p.Label])];
    }

    /// <summary>The session with the clips of what lies beneath muted, where the receiver reads that; in a file of their own they are not.</summary>
    public static Session Muted(Session session, Preparation preparation)
    {
        if (preparation.Sheet?.MutedClips != true)
        {
            return session;
        }

        var beneath = preparation.Tracks.Where(c => c.Of is not null).Select(c => c.TrackId).Concat(TakeTracks.SparesIn(preparation)).ToHashSet();
        return session with { Tracks = [.. session.Tracks.Select(t => beneath.Contains(t.Id) ? t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Muted = true })] })] } : t)] };
    }
}
