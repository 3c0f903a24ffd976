using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clips;

/// <summary>
/// What a file of clips holds, said once: places, fades, clip gain, the fader, pan, markers and the picture's name. It has no notes, tempo, meters, sends,
/// effects or takes; those go in the package's other files.
/// </summary>
internal sealed class ClipFates
{
    private readonly Session _session;
    private readonly ClipChoices _choices;
    private readonly Rational _unit;
    private readonly HashSet<(string Track, long Start)> _going;

    public ClipFates(Session session, Preparation preparation, ClipPlan? plan)
    {
        _session = session;
        _choices = preparation.Clips;
        _unit = _choices.FrameUnits ? session.Rate.PerSecond / session.FrameRate.PerSecond : 1;
        Goes = plan is not null;

        // Muted clips that lie over others stay behind; all else goes.
        _going = Goes ? session.Tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Where(c => !c.Muted || !Overlapped(t, c)).Select(c => (t.Id, c.Start))).ToHashSet() : [];
    }

    /// <summary>Whether there is a file of clips.</summary>
    public bool Goes { get; }

    public Fate Place(Track track, Clip clip) => !_going.Contains((track.Id, clip.Start)) ? Fate.None : IsWhole(clip.Start) && IsWhole(clip.End) ? Fate.Carried : Fate.Converted;

    public Fate Fade(Fade fade) => _choices.FadesAs switch
    {
        FadeForm.Rendered => Fate.Printed,
        FadeForm.Properties => FadeMapping.ForProperty(fade).Fade.Shape == fade.Shape && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
        _ when _choices.File != ClipFileForm.Aaf => fade.Shape == FadeShape.Linear && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
        _ => FadeMapping.ForTransition(fade).Fade.Shape == fade.Shape && IsWhole(fade.Length) ? Fate.Carried : Fate.Converted,
    };

    public Fate Crossfade(Fade outgoing, Fade incoming) => _choices.FadesAs == FadeForm.Rendered ? Fate.Printed
        : _choices.File == ClipFileForm.Aaf || (outgoing.Shape, incoming.Shape) == (FadeShape.Linear, FadeShape.Linear) ? Fate.Carried
        : Fate.Converted;

    public Fate Gain => _choices.RenderGain ? Fate.Printed : Kept;

    public Fate Volume => _choices.Volume switch { VolumeForm.Kept => Kept, VolumeForm.Rendered => Fate.Printed, _ => Fate.None };

    public Fate Pan => _choices.Pan switch { PanForm.Kept => Kept, PanForm.Split => Fate.Converted, _ => Fate.None };

    public Fate Marker(Marker marker) => !Goes || _choices.File == ClipFileForm.Omf ? Fate.None : IsWhole(marker.Sample) && IsWhole(marker.Sample + marker.Length) ? Fate.Carried : Fate.Converted;

    /// <summary>The picture goes by its name and place.</summary>
    public Fate Picture => Goes && _session.Picture is not null && _choices.File != ClipFileForm.Omf ? Fate.Carried : Fate.None;

    // OTIO has no gain, volume or pan: what lies in its metadata is for our own reader and for no other.
    private Fate Kept => _choices.File == ClipFileForm.Otio ? Fate.None : Fate.Carried;

    private bool IsWhole(long sample) => _unit == 1 || (sample / _unit) is var units && ((units.RoundToEven() * _unit).RoundToEven() == sample);

    private static bool Overlapped(Track track, Clip clip) => track.Sounding!.Clips.Any(c => c != clip && c.Start < clip.End && c.End > clip.Start);
}
