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
    private readonly SampleRate _rate;
    private readonly ClipChoices _choices;
    private readonly Rational _unit;
    private readonly bool _marked;
    private readonly Dictionary<(string Track, string Clip), Clip> _going;
    private readonly HashSet<(string Track, string Clip)> _runs = [];
    private readonly HashSet<(string Track, string Clip)> _joined = [];

    /// <param name="session">As it is delivered.</param>
    /// <param name="clips">The same as the file of clips is told of it: at its rate, with what it mutes.</param>
    /// <param name="preparation">How it is delivered.</param>
    /// <param name="format">Of the file.</param>
    public ClipFates(Session session, Session clips, Preparation preparation, ClipFormat format)
    {
        (_session, _rate) = (session, clips.Rate);
        _choices = preparation.Clips with { Format = format };
        _marked = preparation.Markers == MarkersForm.All;
        _unit = _choices.FrameUnits ? _rate.PerSecond / session.FrameRate.PerSecond : 1;

        // Muted clips that lie over others stay behind; all else goes.
        var laid = clips.Tracks.Select(t => (t.Id, Clips: Laid(t))).ToList();
        _going = laid.SelectMany(t => t.Clips.Select(c => (t.Id, Clip: c))).DistinctBy(c => (c.Id, c.Clip.Id)).ToDictionary(c => (c.Id, c.Clip.Id), c => c.Clip);
        if (_choices.FadesAs == FadeForm.Rendered)
        {
            laid.ForEach(t => Join(t.Id, t.Clips));
        }

        // What is shorter than half a frame does not go where places are frames.
        foreach (var (key, _) in _going.Where(c => !_runs.Contains(c.Key) && Units(c.Value.Start) >= Units(c.Value.End)).ToList())
        {
            _going.Remove(key);
        }
    }

    /// <summary>How many clips the file has of a track, or of one of the tracks that it becomes.</summary>
    public int CountOf(string track) => _going.Keys.Count(k => k.Track == track && !_joined.Contains(k));

    // One muted clip after the other finds its room, as the planner lays them.
    private static List<Clip> Laid(Track track)
    {
        var all = track.Sounding?.Clips ?? [];
        var laid = all.Where(c => !c.Muted).ToList();
        foreach (var muted in all.Where(c => c.Muted))
        {
            if (!laid.Exists(c => c.Start < muted.End && c.End > muted.Start))
            {
                laid.Add(muted);
            }
        }

        return [.. laid.OrderBy(c => c.Start)];
    }

    // As clips are laid that cross: each run becomes one.
    private void Join(string track, List<Clip> lane)
    {
        for (var i = 1; i < lane.Count; i++)
        {
            if (lane[i].Start < lane[i - 1].End)
            {
                _runs.Add((track, lane[i - 1].Id));
                _runs.Add((track, lane[i].Id));
                _joined.Add((track, lane[i].Id));
            }
        }
    }

    /// <summary>Where a clip begins. Clips that cross go as one where fades are printed: the others are in its sound.</summary>
    public Fate Place(Track track, Clip clip) => !_going.TryGetValue((track.Id, clip.Id), out var there) ? Fate.None
        : _joined.Contains((track.Id, clip.Id)) ? Fate.Printed
        : IsWhole(there.Start) && IsWhole(there.End) ? Fate.Carried : Fate.Converted;

    /// <summary>How long it is.</summary>
    public Fate Length(Track track, Clip clip) => _runs.Contains((track.Id, clip.Id)) && _going.ContainsKey((track.Id, clip.Id)) ? Fate.Printed : Place(track, clip);

    public Fate Fade(Fade fade) => _choices.FadesAs switch
    {
        FadeForm.Rendered => Fate.Printed,
        FadeForm.Properties => FadeMapping.ForProperty(fade).Fade.Shape == fade.Shape && IsWhole(There(fade.Length)) ? Fate.Carried : Fate.Converted,
        _ when _choices.Format.Transitions != TransitionShapes.ByNameOrPoints => fade.Shape == FadeShape.Linear && IsWhole(There(fade.Length)) ? Fate.Carried : Fate.Converted,
        _ => FadeMapping.ForTransition(fade).Fade.Shape == fade.Shape && IsWhole(There(fade.Length)) ? Fate.Carried : Fate.Converted,
    };

    public Fate Crossfade(Fade outgoing, Fade incoming) => _choices.FadesAs == FadeForm.Rendered ? Fate.Printed
        : _choices.Format.Transitions == TransitionShapes.ByNameOrPoints || (outgoing.Shape, incoming.Shape) == (FadeShape.Linear, FadeShape.Linear) ? Fate.Carried
        : Fate.Converted;

    public Fate Gain => _choices.RenderGain ? Fate.Printed : Kept(_choices.Format.ClipGain);

    public Fate Volume => _choices.Volume switch { VolumeForm.Kept => Kept(_choices.Format.Volume), VolumeForm.Rendered => Fate.Printed, _ => Fate.None };

    public Fate Pan => _choices.Pan switch { PanForm.Kept => Kept(_choices.Format.Pan), PanForm.Split => Fate.Converted, _ => Fate.None };

    public Fate Marker(Marker marker) => !_marked || _choices.Format.Markers != Held.Yes ? Fate.None : IsWhole(There(marker.Sample)) && IsWhole(There(marker.Sample + marker.Length)) ? Fate.Carried : Fate.Converted;

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

    // A session sample at the rate of the clips.
    private long There(long sample) => _session.Rate.Convert(sample, _rate);
}
