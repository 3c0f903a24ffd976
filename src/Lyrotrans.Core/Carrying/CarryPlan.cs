using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Carrying;

/// <summary>
/// Every object of the session and the file that brings it. Objects in = carried + converted + printed + held back;
/// nothing is lost without a word.
/// </summary>
public sealed class CarryPlan
{
    /// <summary>The row of where clips lie.</summary>
    public const string ClipPositions = "Clip positions";

    /// <summary>The row of how long clips are.</summary>
    public const string ClipLengths = "Clip lengths";

    /// <summary>The row of notes.</summary>
    public const string Notes = "Notes";

    /// <summary>The row of controllers, programs and the like.</summary>
    public const string Controllers = "Controllers";

    /// <summary>The row of markers.</summary>
    public const string Markers = "Markers";

    /// <summary>The row of what goes without its sound.</summary>
    public const string WithoutSound = "Without sound";

    /// <summary>The row of faders and rides.</summary>
    public const string Volume = "Volume automation";

    /// <summary>The row of pans.</summary>
    public const string Pan = "Pan";

    /// <summary>The row of tempo.</summary>
    public const string Tempo = "Tempo";

    /// <summary>The row of sends.</summary>
    public const string Sends = "Sends";

    /// <summary>The row of effects.</summary>
    public const string Effects = "Effects";

    /// <summary>The row of buses, returns and the master.</summary>
    public const string Buses = "Buses, returns";

    /// <summary>The row of the reference picture.</summary>
    public const string Picture = "Picture";

    private static readonly HashSet<Treatment> s_held = [Treatment.HoldBack];
    private static readonly Func<OutputKind, Fate> s_printed = _ => Fate.Printed;
    private readonly MidiStart _midi;
    private readonly MusicalClock _clock;
    private readonly HashSet<(string Part, int Control)> _chased;
    private readonly DeliveryPlan _plan;
    private readonly Dictionary<string, HashSet<Treatment>> _treatments;
    private readonly List<Track> _tracks;
    private readonly Dictionary<CarryOutput, ClipFates> _clips;
    private readonly TrackRoles _roles;

    // Tracks in prints of returns and buses, and in the mixes that are made here; those in stems. What a mix that came along is made of is not known: it stands for all that goes.
    private readonly IReadOnlySet<string> _inReturns;
    private readonly IReadOnlySet<string> _inStems;
    private readonly IReadOnlySet<string> _unneeded;

    private CarryPlan(DeliveryPlan plan, IEnumerable<CarryOutput> outputs)
    {
        _plan = plan;
        Outputs = [.. outputs];
        _midi = new MidiStart(plan.Timeline, plan.TimelineRange.Start);
        _clock = plan.Session.Clock;
        _clips = Outputs.Where(o => o.Format is not null).ToDictionary(o => o, o => new ClipFates(plan.Session, plan.ClipSession, plan.Preparation, o.Format!));
        _treatments = plan.Preparation.Tracks.GroupBy(c => c.Of ?? c.TrackId).ToDictionary(g => g.Key, g => g.Select(c => c.Treatment).ToHashSet());

        // Further forms are no objects of their own: they bring those of their tracks.
        var beneath = plan.Preparation.Tracks.Where(c => c.Of is not null).Select(c => c.TrackId).ToHashSet();
        _tracks = [.. plan.Session.Tracks.Where(t => !beneath.Contains(t.Id))];
        _roles = TrackRoles.Of(plan.Session);
        _chased = Chased();
        _inReturns = MixTracks.Of(plan.Session, plan.Preparation);
        _inStems = StemGroup.AllOf(plan.Session, plan.Preparation);
        _unneeded = NeededPaths.Unneeded(plan.Session, plan.Preparation);
        Rows = MakeRows().Where(r => r.Objects.Count > 0).ToValueArray();
    }

    /// <summary>The outputs that the columns are of, in this order.</summary>
    public ValueArray<CarryOutput> Outputs { get; }

    /// <summary>What the columns are called.</summary>
    public IReadOnlyList<string> Columns => [.. Outputs.Select(o => o.Name)];

    /// <summary>A row for each kind of object that the session has, in the order of the table.</summary>
    public ValueArray<CarryRow> Rows { get; }

    /// <summary>Objects that have no fate in any column. There must be none.</summary>
    public int LostWithoutAWord => Rows.Sum(r => r.LostWithoutAWord);

    /// <summary>Finds the fate of every object of a delivery in the outputs that it writes.</summary>
    public static CarryPlan Of(DeliveryPlan plan) => new(plan, CarryOutput.Written(plan));

    /// <summary>Finds the fate of every object of a delivery in outputs that it might write.</summary>
    public static CarryPlan Of(DeliveryPlan plan, IEnumerable<CarryOutput> outputs) => new(plan, outputs);

    /// <summary>How many clips a file of clips has of a track, or of one of the tracks that it becomes there.</summary>
    public int ClipsOf(CarryOutput output, string track) => _clips[output].CountOf(track);

    /// <summary>How many objects come to each fate, taking the best that any column does for each.</summary>
    public int Total(Fate fate) => Rows.Sum(r => r.Objects.Count(o => o.Best(Enumerable.Range(0, Outputs.Count)) == fate));

    private IEnumerable<CarryRow> MakeRows()
    {
        var session = _plan.Session;
        var tracks = _tracks;
        var names = session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        yield return Row(WithoutSound, _plan.Gaps.All.SelectMany(g => g.Objects.Select(o => In($"{g.Of}: {o}", _ => g.IsAccepted ? Fate.HeldBack : Fate.None))));
        yield return Row(ClipPositions, SoundingClips(_ => true).Select(p => Object(p.Track, p.Clip.Name, OfClip(p, c => c.Place(p.Track, p.Clip)))));
        yield return Row(ClipLengths, SoundingClips(_ => true).Select(p => Object(p.Track, p.Clip.Name, OfClip(p, c => c.Length(p.Track, p.Clip)))));
        yield return Row("Fades", SoundingClips(_ => true).SelectMany(p => Fades(p.Clip).Select(f => Object(p.Track, $"{p.Clip.Name}, {f.Name}", OfClip(p, c => c.Fade(f.Fade))))));
        yield return Row("Crossfades", Crossfades());
        yield return Row("Clip gain", SoundingClips(c => c.GainDb != 0 || c.GainCurve is not null).Select(p => Object(p.Track, p.Clip.Name, OfClip(p, c => c.Gain))));
        yield return Row(Volume, tracks.Where(t => t.FaderAutomation is not null || t.FaderDb != 0)
            .Select(t => Object(t, t.Name, new() { Print = AtLevel(t), Clips = c => c.Volume, Mix = s_printed })));
        yield return Row(Pan, tracks.Where(t => t.Pan != 0 || t.PanAutomation is not null)
            .Select(t => Object(t, t.Name, new() { Print = AsMixed(t), Clips = c => c.Pan, Mix = s_printed })));
        yield return Row(Tempo, session.Tempo.Points.Select(p => Whole($"tempo at quarter {p.Quarter}", Fate.Converted, c => c.Music)));
        yield return Row("Meters, keys", session.Meters.Changes.Select(m => $"{m} at bar {m.Bar}").Concat(session.Keys.Select(k => k.Name)).Select(n => Whole(n, Fate.Carried, c => c.Music)));
        yield return Row(Markers, session.Markers.Select(m => Whole(m.Text, InMidi(m), c => c.Marker(m), _plan.Preparation.Markers != MarkersForm.None ? Fate.Carried : Fate.None)));
        yield return Row(Notes, Parts().SelectMany(p => p.Part.Notes.Select(n => Object(p.Track, $"{p.Track.Name}, key {n.Key} at tick {n.Tick}", OfNote(p.Track, p.Part, n)))));
        yield return Row(Controllers, Parts().SelectMany(p => p.Part.Controls.Select((c, i) => Object(p.Track, $"{p.Track.Name}, {c.Kind} at tick {c.Tick}", OfControl(p.Part, c, i)))));
        yield return Row(Sends, tracks.SelectMany(t => t.Sends.Select(s => Object(t, $"{t.Name} to {names.GetValueOrDefault(s.Target, s.Target)}", new() { Print = IsPrinted(s.Target) && IsIn(t, s.Target) ? Fate.Printed : Fate.None, Mix = WithEffects, Elsewhere = true }))));
        yield return Row(Effects, tracks.SelectMany(t => t.Inserts.Select(i => Effect(t, i))));
        yield return Row("Takes", tracks.SelectMany(t => t.Lanes.Select((l, i) => (Lane: l, Spare: TakeTracks.IdOf(t.Id, i), i)).Where(l => l.i != t.SoundingLane)
            .Select(l => Object(t, $"{t.Name}, {l.Lane.Name}", new() { Print = IsPrinted(l.Spare) ? Fate.Printed : Fate.None, Clips = _ => Goes(l.Spare, Treatment.KeepClips) ? Fate.Carried : Fate.None }))));
        yield return Row("Prints, mixes that came along", tracks.Where(t => t.Kind.HasRole()).Select(t => Object(t, t.Name, new() { Print = Fate.Printed, Mix = s_printed })));
        yield return Row(Buses, tracks.Where(t => t.Kind is TrackKind.Bus or TrackKind.Return or TrackKind.Master)
            .Select(t => Object(t, t.Name, new() { Print = IsPrinted(t.Id) ? Fate.Printed : Fate.None, Clips = c => c.OtherTracks, Mix = t.Kind == TrackKind.Return ? WithEffects : s_printed })));
        yield return Row(Picture, session.Picture is { } picture
            ? [In(picture.FileName, o => o.Kind switch { OutputKind.Clips => _clips[o].Picture, OutputKind.Picture => PictureFile, OutputKind.Record => Fate.Carried, _ => Fate.None })] : []);
    }

    // Stems without effects are without returns too.
    private Fate WithEffects(OutputKind mix) => mix == OutputKind.Stems && _plan.Preparation.Mix.DryStems ? Fate.None : Fate.Printed;

    // Its frames are copied or coded anew; which of the two a cut needs is known only when it is made. Where it does not go, it would go as it is.
    private Fate PictureFile => _plan.Picture is { Form: not PictureForm.AsItIs } or { FirstFrame: not 0 } ? Fate.Converted : Fate.Carried;

    // MIDI holds points on ticks: a span goes as its start and its end, a marker between two ticks as the nearest, and one before
    // the range not at all. The record keeps every sample.
    private Fate InMidi(Marker marker) =>
        _plan.Preparation.Markers != MarkersForm.All || marker.Sample < _plan.Range.Start ? Fate.None
        : marker.Length > 0 || !MidiDivision.Holds(_plan.Session, _midi.Division, marker.Sample) ? Fate.Converted
        : Fate.Carried;

    private static CarryRow Row(string kind, IEnumerable<CarryObject> objects) => new(kind, objects.ToValueArray());

    /// <summary>What a clip has: in prints and mixes as far as these reach to it, and among clips where it goes there.</summary>
    private Ways OfClip((Track Track, Clip Clip) of, Func<ClipFates, Fate> kept)
    {
        var (track, clip) = of;
        Fate In(FileKind kind) => !clip.Muted && _plan.Forms.RangeOf(kind) is var range && clip.End > range.Start && clip.Start < range.End ? Fate.Printed : Fate.None;
        return new()
        {
            Print = In(FileKinds.Of(track)),
            Mix = mix => In(KindOf(mix)),
            Clips = c => c.Place(track, clip) == Fate.None ? Fate.None : kept(c),
        };
    }

    private static FileKind KindOf(OutputKind mix) => mix switch { OutputKind.Stems => FileKind.Stems, OutputKind.GuideMix => FileKind.GuideMix, _ => FileKind.FinishedMix };

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
        select Object(track, $"{clips[i - 1].Name} into {clips[i].Name}", OfClip((track, clips[i]), c => c.Crossfade(clips[i - 1].FadeOut, clips[i].FadeIn)));

    private IEnumerable<(Track Track, NotePart Part)> Parts() => _tracks.SelectMany(t => t.Parts.Select(p => (t, p)));

    // What began before the range is in no file of it, and what begins after its part's end sounds nowhere.
    private Ways OfNote(Track track, NotePart part, Note note)
    {
        var at = part.StartQuarter + new Rational(note.Tick, part.TicksPerQuarter);
        var within = note.Tick < LengthOf(part);
        Fate In(FileKind kind) => within && !part.Muted && _plan.Forms.RangeOf(kind) is var range && _clock.SampleAt(at) is var sample && sample >= range.Start && sample < range.End ? Fate.Printed : Fate.None;
        return new()
        {
            Print = In(FileKinds.Of(track)),
            Clips = c => c.OtherTracks,
            Midi = within && GoesInMidi(part) && _midi.Tick(at) >= 0 ? Fate.Carried : Fate.None,
            Mix = mix => In(KindOf(mix)),
        };
    }

    // The last of each kind before the range stands at its beginning.
    private Ways OfControl(NotePart part, NoteControl control, int place)
    {
        var sounds = part.Muted ? Fate.None : Fate.Printed;
        return new()
        {
            Print = sounds,
            Clips = c => c.OtherTracks,
            Midi = !GoesInMidi(part) || control.Tick >= LengthOf(part) ? Fate.None : TickOf(part, control) >= 0 ? Fate.Carried : _chased.Contains((part.Id, place)) ? Fate.Converted : Fate.None,
            Mix = _ => sounds,
        };
    }

    private bool GoesInMidi(NotePart part) => !part.Muted || _plan.Preparation.Midi.MutedParts;

    private long TickOf(NotePart part, NoteControl control) => _midi.Tick(part.StartQuarter + new Rational(control.Tick, part.TicksPerQuarter));

    private static long LengthOf(NotePart part) => (part.LengthQuarters * part.TicksPerQuarter).RoundToEven();

    /// <summary>The controllers from before the range that stand at its beginning: of each kind on a channel the last, in each file or track of parts.</summary>
    private HashSet<(string Part, int Control)> Chased()
    {
        static bool Holds(NoteControl c) => c.Kind is NoteControlKind.Program or NoteControlKind.Controller or NoteControlKind.PitchBend or NoteControlKind.ChannelPressure;
        var joined = _plan.Preparation.Midi.Form == MidiForm.OneFile;
        return Parts().Where(p => GoesInMidi(p.Part)).GroupBy(p => joined ? p.Track.Id : p.Part.Id)
            .SelectMany(g => g.SelectMany(p => p.Part.Controls.Select((c, i) => (p.Part, Control: c, Place: i, Tick: TickOf(p.Part, c))).Where(c => Holds(c.Control) && c.Control.Tick < LengthOf(p.Part))).Where(c => c.Tick < 0).OrderBy(c => c.Tick)
                .GroupBy(c => (c.Control.Channel, c.Control.Kind, c.Control.Number)).Select(k => k.Last()))
            .Select(c => (c.Part.Id, c.Place)).ToHashSet();
    }

    /// <summary>An effect: in the print where the track goes through it, and in the mix, where it can be rendered here.</summary>
    private CarryObject Effect(Track track, Insert insert)
    {
        var known = _roles.PrintOf(track.Id) is not null || EffectCatalogue.Find(insert.Effect) is not null ? Fate.Printed : Fate.None;
        var through = _plan.Preparation.Tracks.Any(c => (c.Of ?? c.TrackId) == track.Id && c.Treatment.IsThrough() && !insert.Bypassed && PrintEffects.Kept(track, c).Inserts.Contains(insert));
        var before = track.Kind == TrackKind.Master && _plan.Preparation.Mix.Master == StemMaster.Before;
        return Object(track, $"{insert.Effect} on {track.Name}", new()
        {
            Print = through ? known : Fate.None,
            Mix = mix => WithEffects(mix) == Fate.None || (before && mix != OutputKind.FinishedMix) ? Fate.None : known,
        });
    }

    private Fate AsMixed(Track track) => Goes(track.Id, Treatment.PrintMixed) ? Fate.Printed : Fate.None;

    private Fate AtLevel(Track track) => Goes(track.Id, Treatment.PrintLevel) ? Fate.Printed : AsMixed(track);

    /// <summary>Whether a track is in a print: its own, or that of the track that its sound stands for, if it does not go dry.</summary>
    private bool IsPrinted(Track track) => track.Kind == TrackKind.Print ? track.Of.Any(of => TreatmentsOf(of).Any(t => t.IsThrough())) : IsPrinted(track.Id);

    private bool IsPrinted(string trackId) => TreatmentsOf(trackId).Any(t => t.IsPrint());

    private bool Goes(string trackId, Treatment treatment) => TreatmentsOf(trackId).Contains(treatment);

    private HashSet<Treatment> TreatmentsOf(string trackId) => _treatments.GetValueOrDefault(trackId, s_held);

    /// <summary>A thing on a track: held back with it, else in the print, the mix or among the clips as the track goes, and kept in the record.</summary>
    private CarryObject Object(Track track, string name, Ways ways)
    {
        // A bus or return that has no print of its own is not held back: it is kept as a record.
        var goes = track.Kind.IsSource() ? !Goes(track.Id, Treatment.HoldBack) : !_unneeded.Contains(track.Id);
        var clips = goes && (Goes(track.Id, Treatment.KeepClips) || track.Kind != TrackKind.Audio);
        return In(name, o => o.Kind switch
        {
            OutputKind.Picture or OutputKind.MarkerList => Fate.None,
            OutputKind.Prints when ways.Elsewhere => goes ? ways.Print : Kept(ways.Print),
            OutputKind.Stems or OutputKind.GuideMix or OutputKind.FinishedMix when IsHeard(track, o.Kind) && (goes || Heard(o.Kind).Contains(track.Id)) => goes ? ways.Mix(o.Kind) : Kept(ways.Mix(o.Kind)),
            _ when !goes => Fate.HeldBack,
            OutputKind.Prints => IsPrinted(track) ? ways.Print : Fate.None,
            OutputKind.Clips => clips ? ways.Clips(_clips[o]) : Fate.None,
            OutputKind.Midi => TreatmentsOf(track.Id).Any(t => t.HasNotes()) ? ways.Midi : Fate.None,
            OutputKind.Record => Fate.Carried,
            _ => Fate.None,
        }) with
        { TrackId = track.Id };
    }

    /// <summary>Whether a track sounds in a mix; what is no source of its own stands in all.</summary>
    private bool IsHeard(Track track, OutputKind mix) => track.Kind != TrackKind.Click && (track.Kind != TrackKind.GuideMix || mix == OutputKind.GuideMix)
        && (!track.Kind.IsSource() || !_roles.Plays(track) || Heard(mix).Contains(track.Id));

    private IReadOnlySet<string> Heard(OutputKind mix) => mix == OutputKind.Stems || (mix == OutputKind.GuideMix && _roles.Guide is not null) ? _inStems : _inReturns;

    // What does not go by itself may sound in what does.
    private static Fate Kept(Fate fate) => fate == Fate.None ? Fate.HeldBack : fate;

    /// <summary>Whether what a track sends is in the print of a return or bus.</summary>
    private bool IsIn(Track track, string target) => !track.Kind.IsSource() || _inReturns.Contains(track.Id) || _roles.PrintOf(target) is not null;

    private CarryObject Whole(string name, Fate midi, Func<ClipFates, Fate> clips, Fate list = Fate.None) => In(name, o => o.Kind switch
    {
        OutputKind.Midi => midi,
        OutputKind.Clips => clips(_clips[o]),
        OutputKind.MarkerList => list,
        OutputKind.Record => Fate.Carried,
        _ => Fate.None,
    });

    private CarryObject In(string name, Func<CarryOutput, Fate> of) => new(name, [.. Outputs.Select(of)]);

    /// <summary>What a thing on a track becomes in each kind of output, where the track goes there.</summary>
    private sealed class Ways
    {
        public Fate Print { get; init; }

        public Func<OutputKind, Fate> Mix { get; init; } = _ => Fate.None;

        public Func<ClipFates, Fate> Clips { get; init; } = _ => Fate.None;

        public Fate Midi { get; init; }

        /// <summary>Whether the print is another track's, as that of a return is for a send.</summary>
        public bool Elsewhere { get; init; }
    }
}
