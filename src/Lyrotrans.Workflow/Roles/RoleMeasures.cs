using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Roles;

/// <summary>Holds a sound file to what would be made here in its place: likeness, delay, level and polarity; a click to the grid.</summary>
/// <param name="session">With a track for the file.</param>
/// <param name="files">The session's media.</param>
/// <param name="stop">Stops between blocks.</param>
public sealed class RoleMeasures(Session session, IMediaFiles files, CancellationToken stop)
{
    private const double LeastForLevel = 0.9;
    private const double LeastWhereExpected = 0.98;
    private const int ExpectedSeconds = 2;

    /// <param name="track">The file's track.</param>
    /// <param name="role">What it is, or seems to be.</param>
    public RoleMeasure Of(Track track, ItemRole role)
    {
        var opener = new MediaOpener(files, session.Rate);
        var range = new SampleRange(0, session.EndSample);
        using var render = new TrackRender(session, track with { Kind = TrackKind.Audio }, opener);
        using var file = ScratchSound.Write(files.Scratch, session.Rate, track.Channels, range, render, stop);
        if (role.Kind == RoleKind.Click)
        {
            using var click = file.Source();
            return ClickMeasure.Of(session, click, stop);
        }

        if (Made(track, role, opener) is not { } made)
        {
            return new RoleMeasure("nothing here to hold its sound to", null);
        }

        using (made.Sound)
        {
            using var ours = ScratchSound.Write(files.Scratch, session.Rate, made.Channels, range, made.Sound, stop);
            return Words(new SignalFinder(ours.Source).Find([file.Source], _ => { }, stop)[0]);
        }
    }

    /// <summary>What would be made here in its place; null where nothing of it can be like it.</summary>
    private (ITrackSound Sound, int Channels)? Made(Track track, ItemRole role, MediaOpener opener)
    {
        // A guide is held to the mix with the prints that came along, all others to what is made without them.
        var rest = session with { Tracks = [.. session.Tracks.Where(t => t.Id != track.Id && (role.Kind == RoleKind.GuideMix || !t.Kind.HasRole()))] };
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

    private RoleMeasure Words(SignalPlace? found)
    {
        if (found is not { } place)
        {
            return new RoleMeasure("not found in what is made here", null);
        }

        var late = -place.Nearest;
        var when = late == 0 ? "on its sample" : $"{Digits.Grouped(Math.Abs(late))} samples {(late > 0 ? "later" : "earlier")} than here";
        var level = -place.GainDb;

        // Where other sound lies over it the level is a guess.
        var levels = place.Correlation < LeastForLevel ? string.Empty : $", level {(level >= 0 ? "+" : string.Empty)}{Decibels.Words(level)} dB";

        // What repeats lies well in many places; a print begins about where its track does.
        var near = place.Correlation >= LeastWhereExpected && Math.Abs(late) <= session.Rate.SamplesIn(ExpectedSeconds).RoundToEven();
        return place.IsSure || near
            ? new RoleMeasure(FormattableString.Invariant($"correlation {place.Correlation:0.00}, {when}{levels}{(place.Inverted ? ", polarity inverted" : string.Empty)}"), late)
            : new RoleMeasure(FormattableString.Invariant($"correlation {place.Correlation:0.00}, not sure"), null);
    }
}
