using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Carrying;

/// <summary>
/// What a file of clips of one format holds, said once: places, fades, clip gain, the fader, pan, markers and the picture's name, and
/// tempo and notes where its format has them. It has no effects or takes; those go in the package's other files.
/// </summary>
internal sealed class ClipFates
{
    private readonly Session _session;
    private readonly ClipChoices _choices;
    private readonly Rational _unit;
    private readonly bool _marked;
    private readonly HashSet<(string Track, long Start)> _going;
    private readonly HashSet<(string Track, long Start)> _runs = [];
    private readonly HashSet<(string Track, long Start)> _joined = [];

    public ClipFates(Session session, Preparation preparation, ClipFormat format)
    {
        _session = session;
        _choices = preparation.Clips with { Format = format };
        _marked = preparation.Markers == MarkersForm.All;
        _unit = _choices.FrameUnits ? session.Rate.PerSecond / session.FrameRate.PerSecond : 1;

        // Muted clips that lie over others stay behind, and so does what is shorter than half a frame where places are frames; all else goes.
        _going = session.Tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Where(c => (!c.Muted || !Overlapped(t, c)) && Units(c.Start) < Units(c.End)).Select(c => (t.Id, c.Start))).ToHashSet();
        if (_choices.FadesAs == FadeForm.Rendered)
        {
            session.Tracks.ToList().ForEach(Join);
        }
    }

    // As clips are laid that cross: each run becomes one.
    private void Join(Track track)
    {
        var lane = (track.Sounding?.Clips ?? []).Where(c => _going.Contains((track.Id, c.Start))).OrderBy(c => c.Start).ToList();
        for (var i = 1; i < lane.Count; i++)
        {
            if (lane[i].Start < lane[i - 1].End)
            {
                _runs.Add((track.Id, lane[i - 1].Start));
                _runs.Add((track.Id, lane[i].Start));
                _joined.Add((track.Id, lane[i].Start));
            }
        }
    }

    /// <summary>Where a clip begins. Clips that cross go as one where fades are printed: the others are in its sound.</summary>
    public Fate Place(Track track, Clip clip) => !_going.Contains((track.Id, clip.Start)) ? Fate.None
        : _joined.Contains((track.Id, clip.Start)) ? Fate.Printed
        : IsWhole(clip.Start) && IsWhole(clip.End) ? Fate.Carried : Fate.Converted;

    /// <summary>How long it is.</summary>
    public Fate Length(Track track, Clip clip) => _runs.Contains((track.Id, clip.Start)) ? Fate.Printed : Place(track, clip);

    public Fate Fade(Fade fade) => _choices.FadesAs switch
    {
        FadeForm.Rendered => Fate.Printed,
        FadeForm.Properties => FadeMapping.ForProperty(fade).Fade.Shape == fade.Shape && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
        _ when _choices.Format.Transitions != TransitionShapes.ByNameOrPoints => fade.Shape == FadeShape.Linear && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
        _ => FadeMapping.ForTransition(fade).Fade.Shape == fade.Shape && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
    };

    public Fate Crossfade(Fade outgoing, Fade incoming) => _choices.FadesAs == FadeForm.Rendered ? Fate.Printed
        : _choices.Format.Transitions == TransitionShapes.ByNameOrPoints || (outgoing.Shape, incoming.Shape) == (FadeShape.Linear, FadeShape.Linear) ? Fate.Carried
        : Fate.Converted;

    public Fate Gain => _choices.RenderGain ? Fate.Printed : Kept(_choices.Format.ClipGain);

    public Fate Volume => _choices.Volume switch { VolumeForm.Kept => Kept(_choices.Format.Volume), VolumeForm.Rendered => Fate.Printed, _ => Fate.None };

    public Fate Pan => _choices.Pan switch { PanForm.Kept => Kept(_choices.Format.Pan), PanForm.Split => Fate.Converted, _ => Fate.None };

    public Fate Marker(Marker marker) => !_marked || _choices.Format.Markers != Held.Yes ? Fate.None : IsWhole(marker.Sample) && IsWhole(marker.Sample + marker.Length) ? Fate.Carried : Fate.Converted;

    /// <summary>The picture goes by its name and place.</summary>
    public Fate Picture => _session.Picture is not null ? Kept(_choices.Format.Picture) : Fate.None;

    /// <summary>Tempo, meters, keys.</summary>
    public Fate Music => Kept(_choices.Format.Music);

    /// <summary>Notes, buses, returns and what is on them.</summary>
    public Fate OtherTracks => Kept(_choices.Format.OtherTracks);

    // What lies in metadata is for our own reader and for no other.
    private static Fate Kept(Held held) => held == Held.Yes ? Fate.Carried : Fate.None;

    private long Units(long sample) => _unit == 1 ? sample : (sample / _unit).RoundToEven();

    private bool IsWhole(long sample) => _unit == 1 || (sample / _unit) is var units && ((units.RoundToEven() * _unit).RoundToEven() == sample);

    private static bool Overlapped(Track track, Clip clip) => track.Sounding!.Clips.Any(c => c != clip && c.Start < clip.End && c.End > clip.Start);
}
