using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Carrying;

/// <summary>
/// Every object of the session and the file that brings it. Objects in = carried + converted + printed + held back;
/// nothing is lost without a word.
/// </summary>
public sealed class CarryPlan
{
    private static readonly HashSet<Treatment> s_held = [Treatment.HoldBack];
    private readonly int _division;
    private readonly DeliveryPlan _plan;
    private readonly Dictionary<string, HashSet<Treatment>> _treatments;
    private readonly List<Track> _tracks;
    private readonly ClipFates _clips;
    private readonly bool _mix;
    private readonly TrackRoles _roles;

    // Tracks in prints of returns and buses; those in the files of the mix. What a mix that came along is made of is not known: it stands for all that goes.
    private readonly IReadOnlySet<string> _inReturns;
    private readonly HashSet<string> _heard;

    private CarryPlan(DeliveryPlan plan)
    {
        _plan = plan;
        _division = MidiDivision.Of(plan.Session);
        _mix = plan.Preparation.Mix.HasMix;
        _clips = new ClipFates(plan.Session, plan.Preparation, plan.Clips);
        _treatments = plan.Preparation.Tracks.GroupBy(c => c.Of ?? c.TrackId).ToDictionary(g => g.Key, g => g.Select(c => c.Treatment).ToHashSet());

        // Further forms are no objects of their own: they bring those of their tracks.
        var beneath = plan.Preparation.Tracks.Where(c => c.Of is not null).Select(c => c.TrackId).ToHashSet();
        _tracks = [.. plan.Session.Tracks.Where(t => !beneath.Contains(t.Id))];
        _roles = TrackRoles.Of(plan.Session);
        _inReturns = MixTracks.Of(plan.Session, plan.Preparation);
        _heard = plan.Preparation.Mix.Stems || (plan.Preparation.Mix.Guide && _roles.Guide is not null) ? [.. StemGroup.AllOf(plan.Session, plan.Preparation)] : [];
        _heard.UnionWith(plan.Preparation.Mix.Guide && _roles.Guide is null ? _inReturns : new HashSet<string>());
        Rows = MakeRows().Where(r => r.Objects.Count > 0).ToValueArray();
    }

    /// <summary>Prints, stems and guide mix where they go, the file of clips and the picture where there is one, MIDI and the session document, in this order.</summary>
    public IReadOnlyList<string> Columns =>
    [
        "prints", .. _mix ? ["mix"] : Array.Empty<string>(), .. _clips.Goes ? [_plan.Preparation.Clips.Format.Id] : Array.Empty<string>(), .. _plan.Picture is null ? Array.Empty<string>() : ["picture"], "MIDI", "record",
    ];

    /// <summary>A row for each kind of object that the session has, in the order of the table.</summary>
    public ValueArray<CarryRow> Rows { get; }

    /// <summary>Objects that have no fate in any column. There must be none.</summary>
    public int LostWithoutAWord => Rows.Sum(r => r.LostWithoutAWord);

    /// <summary>Finds the fate of every object of a delivery.</summary>
    public static CarryPlan Of(DeliveryPlan plan) => new(plan);

    /// <summary>How many objects come to each fate, taking the best that any column does for each.</summary>
    public int Total(Fate fate) => Rows.Sum(r => r.Objects.Count(o => Best(o) == fate));

    private static Fate Best(CarryObject item) =>
        item.Fates.Contains(Fate.Carried) ? Fate.Carried
        : item.Fates.Contains(Fate.Converted) ? Fate.Converted
        : item.Fates.Contains(Fate.Printed) ? Fate.Printed
        : Fate.HeldBack;

    private IEnumerable<CarryRow> MakeRows()
    {
        var session = _plan.Session;
        var tracks = _tracks;
        yield return Row("Without sound", _plan.Gaps.All.SelectMany(g => g.Objects.Select(o => Everywhere($"{g.Of}: {o}", g.IsAccepted ? Fate.HeldBack : Fate.None))));
        yield return Clips("Clip positions", _ => true);
        yield return Clips("Clip lengths", _ => true);
        yield return Row("Fades", SoundingClips(c => true).SelectMany(p => Fades(p.Clip).Select(
            f => Object(p.Track, $"{p.Clip.Name}, {f.Name}", Fate.Printed, _clips.Fade(f.Fade), mix: Fate.Printed))));
        yield return Row("Crossfades", Crossfades());
        yield return Clips("Clip gain", c => c.GainDb != 0 || c.GainCurve is not null, _ => _clips.Gain);
        yield return Row("Volume automation", tracks.Where(t => t.FaderAutomation is not null || t.FaderDb != 0)
            .Select(t => Object(t, t.Name, AtLevel(t), _clips.Volume, mix: Fate.Printed)));
        yield return Row("Pan", tracks.Where(t => t.Pan != 0 || t.PanAutomation is not null)
            .Select(t => Object(t, t.Name, AsMixed(t), _clips.Pan, mix: Fate.Printed)));
        yield return Row("Tempo", session.Tempo.Points.Select(p => Whole($"tempo at quarter {p.Quarter}", Fate.Converted, _clips.Music)));
        yield return Row("Meters, keys", session.Meters.Changes.Select(m => Whole($"{m} at bar {m.Bar}", Fate.Carried, _clips.Music))
            .Concat(session.Keys.Select(k => Whole(k.Name, Fate.Carried, _clips.Music))));
        yield return Row("Markers", session.Markers.Select(m => Whole(m.Text, InMidi(m), _clips.Marker(m))));
        yield return Row("Notes", Parts((p, t) => p.Notes.Select(n => $"{t.Name}, key {n.Key} at tick {n.Tick}")));
        yield return Row("Controllers", Parts((p, t) => p.Controls.Select(c => $"{t.Name}, {c.Kind} at tick {c.Tick}")));
        yield return Row("Sends", tracks.SelectMany(t => t.Sends.Select(s => Object(t, $"{t.Name} to {s.Target}", IsPrinted(s.Target) && IsIn(t, s.Target) ? Fate.Printed : Fate.None, mix: Fate.Printed, elsewhere: true))));
        yield return Row("Effects", tracks.SelectMany(t => t.Inserts.Select(i => Effect(t, i))));
        yield return Row("Takes", tracks.SelectMany(t => t.Lanes.Select((l, i) => (Lane: l, Spare: TakeTracks.IdOf(t.Id, i), i)).Where(l => l.i != t.SoundingLane)
            .Select(l => Object(t, $"{t.Name}, {l.Lane.Name}", IsPrinted(l.Spare) ? Fate.Printed : Fate.None, Goes(l.Spare, Treatment.KeepClips) && _clips.Goes ? Fate.Carried : Fate.None))));
        yield return Row("Prints, mixes that came along", tracks.Where(t => t.Kind.HasRole())
            .Select(t => Object(t, t.Name, Fate.Printed, mix: Fate.Printed)));
        yield return Row("Buses, returns", tracks.Where(t => t.Kind is TrackKind.Bus or TrackKind.Return or TrackKind.Master)
            .Select(t => Object(t, t.Name, IsPrinted(t.Id) ? Fate.Printed : Fate.None, _clips.OtherTracks, mix: Fate.Printed)));
        yield return Row("Picture", session.Picture is { } picture ? [In(picture.FileName, Fate.None, Fate.None, _clips.Picture, Fate.None, Fate.Carried, PictureFile)] : []);
    }

    // Its frames are copied or coded anew; which of the two a cut needs is known only when it is made.
    private Fate PictureFile => _plan.Picture is not { } picture ? Fate.None : picture is { Form: PictureForm.AsItIs, FirstFrame: 0 } ? Fate.Carried : Fate.Converted;

    // MIDI holds points on ticks: a span goes as its start and its end, a marker between two ticks as the nearest, and one before
    // the range not at all. The record keeps every sample.
    private Fate InMidi(Marker marker) =>
        _plan.Preparation.Markers != MarkersForm.All || marker.Sample < _plan.Range.Start ? Fate.None
        : marker.Length > 0 || !MidiDivision.Holds(_plan.Session, _division, marker.Sample) ? Fate.Converted
        : Fate.Carried;

    private static CarryRow Row(string kind, IEnumerable<CarryObject> objects) => new(kind, objects.ToValueArray());

    private CarryRow Clips(string kind, Func<Clip, bool> which, Func<Clip, Fate>? kept = null) => Row(kind, SoundingClips(which).Select(
        p => Object(p.Track, p.Clip.Name, p.Clip.Muted ? Fate.None : Fate.Printed, mix: p.Clip.Muted ? Fate.None : Fate.Printed, clips: _clips.Place(p.Track, p.Clip) is Fate.None ? Fate.None : kept?.Invoke(p.Clip) ?? _clips.Place(p.Track, p.Clip))));

    private IEnumerable<(Track Track, Clip Clip)> SoundingClips(Func<Clip, bool> which) =>
        _tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Where(which).Select(c => (t, c)));

    private static IEnumerable<(string Name, Fade Fade)> Fades(Clip clip)
    {
        if (clip.FadeIn.Length > 0)
        {
            yield return ("fade in", clip.FadeIn);
        }

        if (clip.FadeOut.Length > 0)
        {
            yield return ("fade out", clip.FadeOut);
        }
    }

    private IEnumerable<CarryObject> Crossfades() =>
        from track in _tracks
        let clips = track.Sounding?.Clips ?? default
        from i in Enumerable.Range(1, Math.Max(0, clips.Count - 1))
        where clips[i - 1].End > clips[i].Start
        select Object(track, $"{clips[i - 1].Name} into {clips[i].Name}", Fate.Printed, _clips.Crossfade(clips[i - 1].FadeOut, clips[i].FadeIn), mix: Fate.Printed);

    private IEnumerable<CarryObject> Parts(Func<NotePart, Track, IEnumerable<string>> names) =>
        from track in _tracks
        from part in track.Parts
        let sounds = part.Muted ? Fate.None : Fate.Printed
        from name in names(part, track)
        select Object(track, name, sounds, _clips.OtherTracks, midi: part.Muted && !_plan.Preparation.Midi.MutedParts ? Fate.None : Fate.Carried, mix: sounds);

    /// <summary>An effect: in the print where the track goes through it, and in the mix, where it can be rendered here.</summary>
    private CarryObject Effect(Track track, Insert insert)
    {
        var known = _roles.PrintOf(track.Id) is not null || EffectCatalogue.Find(insert.Effect) is not null ? Fate.Printed : Fate.None;
        var through = _plan.Preparation.Tracks.Any(c => (c.Of ?? c.TrackId) == track.Id && c.Treatment.IsThrough() && !insert.Bypassed && PrintEffects.Kept(track, c).Inserts.Contains(insert));
        var inMix = track.Kind == TrackKind.Master && _plan.Preparation.Mix.Master == StemMaster.Before ? Fate.None : known;
        return Object(track, $"{insert.Effect} on {track.Name}", through ? known : Fate.None, mix: inMix);
    }

    private Fate AsMixed(Track track) => Goes(track.Id, Treatment.PrintMixed) ? Fate.Printed : Fate.None;

    private Fate AtLevel(Track track) => Goes(track.Id, Treatment.PrintLevel) ? Fate.Printed : AsMixed(track);

    /// <summary>Whether a track is in a print: its own, or that of the track that its sound stands for, if it does not go dry.</summary>
    private bool IsPrinted(Track track) => track.Kind == TrackKind.Print ? track.Of.Any(of => TreatmentsOf(of).Any(t => t.IsThrough())) : IsPrinted(track.Id);

    private bool IsPrinted(string trackId) => TreatmentsOf(trackId).Any(t => t.IsPrint());

    private bool Goes(string trackId, Treatment treatment) => TreatmentsOf(trackId).Contains(treatment);

    private HashSet<Treatment> TreatmentsOf(string trackId) => _treatments.GetValueOrDefault(trackId, s_held);

    /// <summary>A thing on a track: held back with it, else in the print, the mix or among the clips as the track goes, and kept in the record.</summary>
    /// <param name="elsewhere">Whether the print is another track's, as that of a return is for a send.</param>
    private CarryObject Object(Track track, string name, Fate print = Fate.None, Fate clips = Fate.None, Fate midi = Fate.None, Fate mix = Fate.None, bool elsewhere = false)
    {
        // A bus or return that has no print of its own is not held back: it is kept as a record.
        var plays = track.Kind != TrackKind.Click && (track.Kind != TrackKind.GuideMix || _plan.Preparation.Mix.Guide) && (!track.Kind.IsSource() || !_roles.Plays(track) || _heard.Contains(track.Id));
        var goes = !track.Kind.IsSource() || !Goes(track.Id, Treatment.HoldBack);
        return !goes
            ? In(name, elsewhere ? Kept(print) : Fate.HeldBack, _heard.Contains(track.Id) ? Kept(mix) : Fate.HeldBack, Fate.HeldBack, Fate.HeldBack, Fate.HeldBack, Fate.HeldBack)
            : In(name, elsewhere || IsPrinted(track) ? print : Fate.None, plays ? mix : Fate.None, Goes(track.Id, Treatment.KeepClips) || track.Kind != TrackKind.Audio ? clips : Fate.None, midi, Fate.Carried);
    }

    // What does not go by itself may sound in what does.
    private static Fate Kept(Fate fate) => fate == Fate.None ? Fate.HeldBack : fate;

    /// <summary>Whether what a track sends is in the print of a return or bus.</summary>
    private bool IsIn(Track track, string target) => !track.Kind.IsSource() || _inReturns.Contains(track.Id) || _roles.PrintOf(target) is not null;

    private CarryObject Whole(string name, Fate midi, Fate clips = Fate.None) => In(name, Fate.None, Fate.None, clips, midi, Fate.Carried);

    private CarryObject Everywhere(string name, Fate fate) => In(name, fate, fate, fate, fate, fate, fate);

    private CarryObject In(string name, Fate print, Fate mix, Fate clips, Fate midi, Fate record, Fate picture = Fate.None) =>
        new(name, [print, .. _mix ? [mix] : Array.Empty<Fate>(), .. _clips.Goes ? [clips] : Array.Empty<Fate>(), .. _plan.Picture is null ? Array.Empty<Fate>() : [picture], midi, record]);
}
