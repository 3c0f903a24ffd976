using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Roles;

/// <summary>What would be made here in the place of a sound file with a role.</summary>
internal static class RoleSounds
{
    /// <summary>Null where nothing of it can be like the file.</summary>
    /// <param name="session">With or without a track for the file.</param>
    /// <param name="file">The id of the file's track, which is left out.</param>
    /// <param name="role">What the file is, or seems to be.</param>
    /// <param name="opener">Opens media.</param>
    public static (ITrackSound Sound, int Channels)? Made(Session session, string file, ItemRole role, MediaOpener opener)
    {
        // A guide is held to the mix with the prints that came along, all others to what is made without them.
        var rest = session with { Tracks = [.. session.Tracks.Where(t => t.Id != file && (role.Kind == RoleKind.GuideMix || !t.Kind.HasRole()))] };
        var paths = SignalPaths.Of(rest);
        var roles = TrackRoles.Of(rest);
        if (paths.Circle is not null)
        {
            return null;
        }

        var playing = rest.Tracks.Where(t => t.State == TrackState.Active && roles.Plays(t)).Select(t => t.Id).ToHashSet();
        var of = role.Of.Select(o => rest.Tracks.FirstOrDefault(t => t.Id == o.Id)).OfType<Track>().ToList();
        switch (role.Kind)
        {
            case RoleKind.GuideMix:
                return Mix(rest, paths.Master, MixPoint.AfterPan, playing, opener);
            case RoleKind.Stem when of.Count > 0:
                var members = of.SelectMany(t => t.Kind.IsSource() ? [t.Id] : roles.MadeOf(t).AsEnumerable()).ToHashSet();
                return Mix(rest, paths.Master, MixPoint.AfterPan, [.. playing.Where(members.Contains)], opener);
            case RoleKind.Print when of is [{ Kind: TrackKind.Audio } dry]:
                return (new TrackRender(rest, dry, opener), dry.Channels);
            case RoleKind.Print when of is [{ Kind: TrackKind.Bus or TrackKind.Return } way]:
                return Mix(rest, way, MixPoint.AfterEffects, playing, opener);
            default:
                return null;
        }
    }

    private static (ITrackSound Sound, int Channels)? Mix(Session session, Track target, MixPoint point, HashSet<string> playing, MediaOpener opener)
    {
        if (playing.Count == 0)
        {
            return null;
        }

        var render = new MixRender(session, target, point, playing, new MixSounds(opener, new SoundFontSounds()), 0);
        return (render, render.Channels);
    }
}
