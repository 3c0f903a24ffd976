using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Desks;

/// <summary>What sound files are held to in their roles; measured once for each session, one at a time on this machine: each renders.</summary>
public sealed class RoleDesk(DocumentCache cache)
{
    private static readonly SemaphoreSlim s_one = new(1);

    /// <summary>Null where the file is gone, or has no role and none is proposed.</summary>
    public async Task<RoleMeasure?> MeasureAsync(Desk desk, string item, CancellationToken stop)
    {
        var found = desk.Intake.Items.FirstOrDefault(i => i.Id == item);
        var track = found is null ? null : desk.Session.Tracks.FirstOrDefault(t => t.Id == RoleJoin.TrackOf(found));
        var role = found is { HasRole: true } ? found.Role : RoleFinder.Propose(desk.Session, desk.Intake.Items).FirstOrDefault(p => p.Item == item)?.Role;
        if (track is null || role is null || desk.Revision is not { } revision)
        {
            return null;
        }

        await s_one.WaitAsync(stop);
        try
        {
            return await Task.Run(() => cache.Get(desk.Room.Id, $"{revision.SessionSha} role {item} {role.Kind}", () => new RoleMeasures(desk.Session, new StoredMedia(desk.Media), stop).Of(track, role)), stop);
        }
        finally
        {
            s_one.Release();
        }
    }
}
