using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>The media that something sounds by: not those of other takes, of muted clips, or of what a print or a stem stands for.</summary>
public static class NeededMedia
{
    /// <summary>Their ids.</summary>
    public static IReadOnlySet<string> Of(Session session)
    {
        var roles = TrackRoles.Of(session);
        return session.Tracks.Where(t => t.State != TrackState.Muted && roles.PrintOf(t.Id) is null && !roles.IsInStem(t.Id))
            .SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.Media).ToHashSet();
    }
}
