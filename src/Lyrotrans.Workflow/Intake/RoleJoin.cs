using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Makes the tracks of sound files that have a role what they were decided to be.</summary>
public static class RoleJoin
{
    /// <summary>The track that a sound file becomes.</summary>
    public static string TrackOf(IntakeItem item) => $"{item.Id}-track";

    /// <param name="session">With a track for every sound file that is no media.</param>
    /// <param name="items">What was brought in.</param>
    /// <param name="findings">Gets a line for each role that cannot hold any more; its file is a track then.</param>
    public static Session Apply(Session session, IEnumerable<IntakeItem> items, FindingList findings)
    {
        foreach (var item in items.Where(i => i.IsSound && i.HasRole && i.Sound!.Frames > 0))
        {
            var after = Changed(session, item);
            if (after is null)
            {
                findings.Add(IntakeCodes.RoleLost, item.Name, $"{item.Name} cannot be {Words(item.Role!)} any more as was decided: {(session.Tracks.Any(t => t.Id == TrackOf(item)) ? "what it is of is gone, or has another" : "it has no track of its own")}.");
            }

            session = after ?? session;
        }

        return session;
    }

    /// <summary>As it is said: "the print of Celesta".</summary>
    public static string Words(ItemRole role) => role.Of.Count == 0 ? $"the {KindOf(role.Kind).Words()}" : $"the {KindOf(role.Kind).Words()} of {string.Join(", ", role.Of.Select(o => o.Name))}";

    /// <summary>The kind of track that a role makes.</summary>
    public static TrackKind KindOf(RoleKind kind) => kind switch
    {
        RoleKind.Print => TrackKind.Print,
        RoleKind.Stem => TrackKind.Stem,
        RoleKind.GuideMix => TrackKind.GuideMix,
        RoleKind.Click => TrackKind.Click,
        _ => TrackKind.Audio,
    };

    private static Session? Changed(Session session, IntakeItem item)
    {
        var of = item.Role!.Of.Select(o => Find(session, o)).ToValueArray();
        if (session.Tracks.All(t => t.Id != TrackOf(item)) || of.Contains(null))
        {
            return null;
        }

        var after = session with { Tracks = [.. session.Tracks.Select(t => t.Id == TrackOf(item) ? t with { Kind = KindOf(item.Role.Kind), Of = [.. of.OfType<string>()] } : t)] };
        return SessionRules.CheckRoles(after).Any() ? null : after;
    }

    private static string? Find(Session session, RoleTarget target)
    {
        var named = session.Tracks.Where(t => t.Name == target.Name && !t.Kind.HasRole()).Select(t => t.Id).ToList();
        return session.Tracks.Any(t => t.Id == target.Id) ? target.Id : named.Count == 1 ? named[0] : null;
    }
}
