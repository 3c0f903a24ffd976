using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Cutting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Desks;

/// <summary>Where tracks from zero would be cut at their silences; measured once for each session and rule, one at a time on this machine: each reads all files.</summary>
public sealed class CutDesk(DocumentCache cache, DeskLoader desks)
{
    private static readonly SemaphoreSlim s_one = new(1);

    /// <summary>The session of a desk with nothing cut.</summary>
    public Session Whole(Desk desk) => desk.Intake.Cuts.Count == 0 ? desk.Session
        : cache.Get(desk.Room.Id, $"{desk.Revision!.IntakeSha} whole", () => desks.Joined(desk with { Intake = desk.Intake with { Cuts = [] }, Revision = null }).Session);

    /// <summary>Tracks of a desk that can be cut; what seems to be a click is none of them.</summary>
    public IReadOnlyList<Track> Tracks(Desk desk)
    {
        var whole = Whole(desk);
        var clicks = RoleFinder.Propose(whole, desk.Intake.Items).Where(p => p.Role.Kind == RoleKind.Click).Select(p => p.Item).ToHashSet();
        var left = desk.Intake.Items.Where(i => clicks.Contains(i.Id)).Select(RoleJoin.TrackOf).ToHashSet();
        return [.. SilenceCuts.Of(whole).Where(t => !left.Contains(t.Id))];
    }

    /// <summary>What would be cut.</summary>
    /// <param name="desk">A transfer at a revision.</param>
    /// <param name="rule">What is silence.</param>
    /// <param name="track">One of its tracks from zero; none for all.</param>
    /// <param name="stop">Heeded all along.</param>
    public async Task<IReadOnlyList<CutTrack>> MeasureAsync(Desk desk, CutRule rule, string? track, CancellationToken stop)
    {
        if (desk.Revision is not { } revision)
        {
            return [];
        }

        var whole = Whole(desk);
        var tracks = Tracks(desk).Where(t => track is null || t.Id == track).ToList();
        await s_one.WaitAsync(stop);
        try
        {
            return await Task.Run(() => cache.Get(desk.Room.Id, $"{revision.IntakeSha} cut {rule} {track}", () => SilenceCuts.Measure(whole, tracks, rule, new StoredMedia(desk.Media), stop)), stop);
        }
        finally
        {
            s_one.Release();
        }
    }

    /// <summary>A track as it would be cut, drawn; without its levels while they were not measured yet.</summary>
    /// <param name="desk">The transfer.</param>
    /// <param name="track">What is drawn.</param>
    /// <param name="end">The last session sample of the picture.</param>
    public static CutPicture Picture(Desk desk, CutTrack track, long end)
    {
        using var kept = desk.Media.DerivedOf(track.Cut.Sha256, SoundMeasures.PeaksName)?.Open();
        return new CutPicture(track, end, desk.Session.Rate, kept is null ? null : PeakPyramid.Read(kept, track.Medium.FileName));
    }
}
