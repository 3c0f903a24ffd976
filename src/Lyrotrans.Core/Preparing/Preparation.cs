using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Preparing;

/// <summary>All that was decided about a session before it is built. Immutable; rows are in the order of delivery.</summary>
public sealed record Preparation
{
    /// <summary>What delivered files are called; see <see cref="Naming.NamePattern"/>.</summary>
    public string NamePattern { get; init; } = Naming.NamePattern.Usual;

    /// <summary>What is taken off the names of tracks; names that were typed in stay.</summary>
    public NameCleaning Cleaning { get; init; } = new();

    /// <summary>What a name's version says; null where none was typed in.</summary>
    public string? Version { get; init; }

    /// <summary>The day on which this was decided, where names say it.</summary>
    public DateOnly? Date { get; init; }

    /// <summary>Where all files begin.</summary>
    public RangeStart From { get; init; }

    /// <summary>For <see cref="RangeStart.Chosen"/>: session sample.</summary>
    public long ChosenStart { get; init; }

    /// <summary>Added after the last sound, in session samples.</summary>
    public long Tail { get; init; }

    /// <summary>How the samples of sound files are stored.</summary>
    public SampleEncoding Encoding { get; init; } = SampleEncoding.Integer24;

    /// <summary>Whether sound files say tempo and key of themselves, where these do not change.</summary>
    public bool Tags { get; init; }

    /// <summary>Samples a second of all files; none is the session's rate.</summary>
    public long? Rate { get; init; }

    /// <summary>How many times effects that can be oversampled are; none is as the session says. A row may say otherwise of its own.</summary>
    public long? Oversampling { get; init; }

    /// <summary>What is otherwise in the files of single kinds.</summary>
    public KindChoices Kinds { get; init; } = new();

    /// <summary>For a chosen end: one past the last session sample; none is the last sound and its tail.</summary>
    public long? ChosenEnd { get; init; }

    /// <summary>Added after a chosen end, in session samples: what goes on there is in the files too.</summary>
    public long EndTail { get; init; }

    /// <summary>The longest that effects are let sound on after the last sound, in session samples.</summary>
    public long? LongestTail { get; init; }

    /// <summary>What is done with sound above full scale.</summary>
    public OversPolicy Overs { get; init; }

    /// <summary>The noise that is added where bits are lost to 16.</summary>
    public DitherForm Dither { get; init; }

    /// <summary>Whether noise is added where bits are lost to 24 too.</summary>
    public bool DitherTo24 { get; init; }

    /// <summary>What goes along besides the tracks.</summary>
    public MixChoices Mix { get; init; } = new();

    /// <summary>How the reference picture goes.</summary>
    public PictureChoices Picture { get; init; } = new();

    /// <summary>In which files markers go.</summary>
    public MarkersForm Markers { get; init; }

    /// <summary>The format of sound files.</summary>
    public SoundContainer Container { get; init; }

    /// <summary>How notes and the tempo map go out as MIDI.</summary>
    public MidiChoices Midi { get; init; } = new();

    /// <summary>Whether and how a click goes.</summary>
    public ClickChoices Click { get; init; } = new();

    /// <summary>How tracks that are kept as clips go.</summary>
    public required ClipChoices Clips { get; init; }

    /// <summary>Names of what may go without its sound (<see cref="Delivering.SoundGap.Name"/>), in order.</summary>
    public ValueArray<string> Accepted { get; init; }

    /// <summary>What the receiver's sheet asks for beside choices; null where none was chosen.</summary>
    public SheetTerms? Sheet { get; init; }

    /// <summary>What was answered to flags, one for each kind at most.</summary>
    public ValueArray<FlagAnswer> Answers { get; init; }

    /// <summary>For a reply, the SHA-256 of the manifest of the package that it replies to, in lower-case hex; null for all else.</summary>
    public string? ReplyTo { get; init; }

    /// <summary>A row for each track of the session, in the order of delivery.</summary>
    public ValueArray<TrackChoice> Tracks { get; init; }

    /// <summary>
    /// The careful start: everything that sounds goes, in session order; what is hidden, muted or switched off, or has nothing
    /// on it, and what this package cannot make a file of (buses, returns, master, picture) is held back.
    /// </summary>
    /// <param name="session">What is prepared.</param>
    /// <param name="clips">The format of clips that is offered first.</param>
    public static Preparation Default(Session session, ClipFormat clips) => new()
    {
        Clips = new ClipChoices(clips),
        Encoding = session.Depth is SampleEncoding.Integer16 or SampleEncoding.Float32 ? session.Depth : SampleEncoding.Integer24,
        Tail = session.Rate.SamplesIn(1).RoundToEven(),
        Mix = new MixChoices { Guide = HasGuide(session), Sounding = MixSounding.AllHere },
        Click = new ClickChoices(TempoInName: true),
        Picture = new PictureChoices(HasPicture(session) ? PictureExtent.Whole : PictureExtent.None),
        Tracks = Defaults(session).ToValueArray(),
    };

    /// <summary>This preparation for a session whose tracks changed: rows of tracks that are gone leave, new tracks come last.</summary>
    /// <param name="session">As it is now.</param>
    /// <param name="before">As it was; what was left as it was offered is offered anew: a track that came as a print goes as one. Nothing is where it is null.</param>
    public Preparation For(Session session, Session? before = null)
    {
        var known = session.Tracks.ToDictionary(t => t.Id);
        var offered = Defaults(session).ToDictionary(c => c.TrackId);
        var was = before is null ? [] : Defaults(before).GroupBy(c => c.TrackId).ToDictionary(g => g.Key, g => g.First().Treatment);
        var kept = Named(session, before).Where(c => known.ContainsKey(c.TrackId)).Select(c => Anew(c, known[c.TrackId], offered[c.TrackId], was)).ToList();
        var have = kept.Select(c => c.TrackId).ToHashSet();
        return this with
        {
            Mix = before is not null && !HasGuide(before) && HasGuide(session) ? Mix with { Guide = true } : Mix,
            Picture = before is not null && !HasPicture(before) && HasPicture(session) ? Picture with { Extent = PictureExtent.Whole } : Picture,
            Tracks = kept.Concat(session.Tracks.Where(t => !have.Contains(t.Id)).Select(t => offered[t.Id])).ToValueArray(),
        };
    }

    /// <summary>This preparation with more names of what may go without its sound.</summary>
    public Preparation Accepting(IEnumerable<string> names) => this with { Accepted = [.. Accepted.Concat(names).Distinct().Order(StringComparer.Ordinal)] };

    /// <summary>This preparation without the names of what may go without its sound.</summary>
    public Preparation NotAccepting(IEnumerable<string> names) => this with { Accepted = [.. Accepted.Except(names)] };

    /// <summary>This preparation with an answer to a kind of flag, in place of what was answered before; null takes that back.</summary>
    public Preparation Answering(string code, FlagAnswer? answer) => this with { Answers = [.. Answers.Where(a => a.Code != code), .. answer is null ? [] : new[] { answer }] };

    /// <summary>This preparation as it was decided on a day; names that say no date need none.</summary>
    public Preparation Dated(DateOnly day) => this with { Date = Naming.NamePattern.Has(NamePattern, Naming.NamePattern.Date) ? day : null };

    /// <summary>Whether a format holds such samples: FLAC no more than 24 bits, AIFF no float.</summary>
    public static bool CanHold(SoundContainer container, SampleEncoding encoding) => container switch
    {
        SoundContainer.Flac => encoding is SampleEncoding.Integer16 or SampleEncoding.Integer24,
        SoundContainer.Aiff => !encoding.IsFloat(),
        _ => true,
    };

    /// <summary>Samples a second of files of which nothing else was chosen.</summary>
    /// <param name="session">The session's rate.</param>
    public SampleRate RateOf(SampleRate session) => Rate is { } chosen ? SampleRate.FromHz(chosen) : session;

    /// <summary>Treatments that a track can have, best first.</summary>
    public static IReadOnlyList<Treatment> TreatmentsOf(Track track) => track.Kind switch
    {
        TrackKind.Audio => [Treatment.PrintDry, Treatment.PrintThrough, Treatment.PrintLevel, Treatment.PrintMixed, Treatment.KeepClips, Treatment.StemOnly, Treatment.HoldBack],
        TrackKind.Notes => [Treatment.Notes, Treatment.NotesAndPrint, Treatment.StemOnly, Treatment.HoldBack],
        TrackKind.Bus or TrackKind.Return => [Treatment.PrintThrough, Treatment.PrintLevel, Treatment.PrintMixed, Treatment.HoldBack],
        _ => [Treatment.HoldBack],
    };

    /// <summary>Forms in which a track can go muted beneath another, best first.</summary>
    public static IReadOnlyList<Treatment> BeneathOf(Track track) => [.. TreatmentsOf(track).Where(t => t.IsNamed())];

    // Another export of a session may number its tracks anew: what was decided about a track holds for the only one of its name.
    private IEnumerable<TrackChoice> Named(Session session, Session? before)
    {
        var (now, was) = (session.Tracks.Select(t => t.Id).ToHashSet(), before?.Tracks.Select(t => t.Id).ToHashSet() ?? []);
        var names = before?.Tracks.ToDictionary(t => t.Id, t => t.Name) ?? [];
        var fresh = session.Tracks.Where(t => before is not null && !was.Contains(t.Id)).GroupBy(t => t.Name).Where(g => g.Count() == 1).ToDictionary(g => g.Key, g => g.First().Id);
        var gone = Tracks.Where(c => !now.Contains(c.TrackId) && names.ContainsKey(c.TrackId)).GroupBy(c => names[c.TrackId]).Where(g => g.Count() == 1).Select(g => g.First().TrackId).ToHashSet();
        return Tracks.Select(c => gone.Contains(c.TrackId) && fresh.TryGetValue(names[c.TrackId], out var id) ? c with { TrackId = id } : c);
    }

    // What nobody chose becomes what is offered now; what turned out to stand for another track goes in its place.
    private static TrackChoice Anew(TrackChoice choice, Track track, TrackChoice offered, Dictionary<string, Treatment> was) =>
        track.Kind.HasRole() || (was.TryGetValue(track.Id, out var before) && before == choice.Treatment) ? choice with { Treatment = offered.Treatment } : choice;

    private static bool HasGuide(Session session) => session.Tracks.Any(t => t.Kind == TrackKind.GuideMix);

    private static bool HasPicture(Session session) => session.Picture is { IsThere: true };

    private static IEnumerable<TrackChoice> Defaults(Session session)
    {
        var roles = TrackRoles.Of(session);
        return session.Tracks.Select(t => new TrackChoice(t.Id, Offered(t, roles)));
    }

    // What came as a print goes as it: a bus does not, whose tracks go too.
    private static Treatment Offered(Track track, TrackRoles roles)
    {
        var printed = roles.PrintOf(track.Id) is not null;
        return track.State != TrackState.Active ? Treatment.HoldBack
            : track.Kind == TrackKind.Notes && printed ? Treatment.NotesAndPrint
            : track.Kind is TrackKind.Audio or TrackKind.Return && printed ? Treatment.PrintThrough
            : track.Kind.IsSource() && track.HasContent ? TreatmentsOf(track)[0]
            : Treatment.HoldBack;
    }
}
