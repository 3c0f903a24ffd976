using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Naming;
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

        if (RoleSounds.Made(session, track.Id, role, opener) is not { } made)
        {
            return new RoleMeasure("nothing here to hold its sound to", null);
        }

        using (made.Sound)
        {
            using var ours = ScratchSound.Write(files.Scratch, session.Rate, made.Channels, range, made.Sound, stop);
            return Words(new SignalFinder(ours.Source).Find([file.Source], _ => { }, stop)[0]);
        }
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
