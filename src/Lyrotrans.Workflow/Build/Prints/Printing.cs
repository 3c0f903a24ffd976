using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>Makes the sound of planned files, for the build that writes it and the proof that compares it.</summary>
public sealed class Printing(DeliveryPlan plan, IMediaOpener opener, INoteSounds notes)
{
    /// <summary>Frames of a block.</summary>
    public const int Block = 32_768;

    private readonly Dictionary<string, Track> _tracks = plan.Session.Tracks.ToDictionary(t => t.Id);
    private readonly TrackRoles _roles = TrackRoles.Of(plan.Session);
    private readonly Dictionary<string, TrackChoice> _choices = plan.Preparation.Tracks.ToDictionary(c => c.TrackId);
    private MixSounds _sounds = new(opener, notes);

    /// <summary>Identifiers of media that have no sound, so that no clip of them arrives.</summary>
    public IReadOnlySet<string> Silent { get; init; } = new HashSet<string>();

    /// <summary>Has each return and bus with effects that several of these files need rendered once, into a scratch file that goes when what comes back is closed; files are opened in between.</summary>
    /// <param name="files">What will be opened.</param>
    /// <param name="scratch">A local folder.</param>
    /// <param name="stop">Stops between blocks.</param>
    public IDisposable ShareReturns(IEnumerable<PlannedFile> files, string scratch, CancellationToken stop)
    {
        var made = files.ToList();
        var shared = new SharedReturns(plan, made.Select(PlaceOf).OfType<MixPlace>(), Read(made), _sounds, scratch, stop);
        _sounds = _sounds with { Made = shared };
        return shared;
    }

    /// <param name="file">A file of sound.</param>
    /// <param name="gainDb">A level that all files are lowered by.</param>
    public IPrint Open(PlannedFile file, double gainDb = 0)
    {
        var print = Whole(file);
        var gain = Decibels.ToRatio(gainDb) * (IsInverted(file) ? -1 : 1);
        return print.Channels == file.Channels && file.Channel is null && gain == 1 ? print : new FoldedPrint(print, file.Channels, file.Channel, gain);
    }

    /// <summary>The sound of a file at the session's rate, to be held against what it was converted to.</summary>
    /// <param name="file">Of another rate than the session's.</param>
    /// <param name="span">The samples of the file that it must be enough for, from session start on.</param>
    /// <returns>The sound, and the sample of the file's rate that its first one lies on.</returns>
    internal (ISampleSource Sound, long First) BeforeConversion(PlannedFile file, SampleRange span)
    {
        var (from, to) = (plan.Session.Rate, file.Made.Rate);
        var range = ConvertedPrint.Needs(span, from, to);
        return (new PrintSource(Whole(file, range), from, range.Length, (int)range.Length), from.Convert(range.Start, to));
    }

    /// <summary>How exact a file's sound is.</summary>
    public PrintRule RuleOf(PlannedFile file, double gainDb = 0) =>
        gainDb == 0 && file.Made.Rate == plan.Session.Rate && DryOf(file) is { } dry
            ? PrintRule.Of(plan.Session, dry, _choices[dry.Id], file.Made, plan.Preparation.DitherTo24, FactsOf(file))
            : PrintRule.OfMade(file.Made, plan.Preparation.DitherTo24, FactsOf(file));

    // What makes the print and does not change with its name or its samples; a listener of the same track in another form hears other noise.
    private string FactsOf(PlannedFile file)
    {
        var of = file.Kind == PlannedKind.Stem ? string.Join(' ', StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.Order(StringComparer.Ordinal)) : file.TrackId;
        var form = file.Kind == PlannedKind.FromZero ? string.Join('\n', _choices[file.TrackId!].Without.Prepend($"{_choices[file.TrackId!].Treatment}")) : string.Empty;
        return FormattableString.Invariant($"{file.Kind}\n{form}\n{of}\n{file.Channel}\n{file.Made.Rate}\n{file.Made.Encoding.Bits()}\n{file.Span.Start}\n{file.Span.End}");
    }

    /// <summary>The sound of the mix of some tracks, where stems are taken, at the rate of a file and of what it covers.</summary>
    public IPrint Mix(IReadOnlySet<string> sounding, PlannedFile like)
    {
        var place = MixOf(sounding, dry: IsDryStem(like));
        return like.Made.Rate == plan.Session.Rate ? Open(place, like.Span) : new ConvertedPrint(range => Open(place, range), like.Span, plan.Session.Rate, like.Made.Rate);
    }

    private bool IsDryStem(PlannedFile file) => file.Kind == PlannedKind.Stem && plan.Preparation.Mix.DryStems;

    private MixPlace MixOf(IReadOnlySet<string> sounding, bool finished = false, bool dry = false)
    {
        var session = dry ? DrySession : plan.Session;
        var master = SignalPaths.Of(session).Master;
        if (finished || plan.Preparation.Mix.Master == StemMaster.Through)
        {
            return new MixPlace(session, master, MixPoint.AfterPan, sounding);
        }

        var bare = master with { Inserts = [] };
        var before = session with { Tracks = [.. session.Tracks.Where(t => t.Id != master.Id), bare] };
        return new MixPlace(before, bare, MixPoint.AfterEffects, sounding);
    }

    // What all of them read, in session samples.
    private SampleRange Read(List<PlannedFile> files) => files.Select(f => f.Made.Rate == plan.Session.Rate ? f.Span : ConvertedPrint.Needs(f.Span, plan.Session.Rate, f.Made.Rate))
        .Aggregate(plan.Range, (all, range) => new SampleRange(Math.Min(all.Start, range.Start), Math.Max(all.End, range.End)));

    // Levels and pans only: no effects, and nothing to returns.
    private Session DrySession => field ??= WithoutEffects(plan.Session);

    private static Session WithoutEffects(Session session)
    {
        var returns = session.Tracks.Where(t => t.Kind == TrackKind.Return).Select(t => t.Id).ToHashSet();
        return session with { Tracks = [.. session.Tracks.Select(t => t with { Inserts = [], Sends = [.. t.Sends.Where(s => !returns.Contains(s.Target))] })] };
    }

    private bool IsInverted(PlannedFile file) => file.Kind == PlannedKind.FromZero && _choices[file.TrackId!].Inverted;

    /// <summary>Buffers of one block, a channel each.</summary>
    public static double[][] Planar(int channels) => Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();

    private IPrint Whole(PlannedFile file) => file.Kind == PlannedKind.Click ? new ClickPrint(plan)
        : file.Made.Rate == plan.Session.Rate ? Whole(file, file.Span)
        : new ConvertedPrint(range => Whole(file, range), file.Span, plan.Session.Rate, file.Made.Rate);

    private IPrint Whole(PlannedFile file, SampleRange range) => PlaceOf(file) is { } place ? Open(place, range) : new DryPrint(plan.Session, DryOf(file)!, range, opener);

    /// <summary>The track whose clips are a file as they are: one that is printed dry, or the guide mix that came along.</summary>
    private Track? DryOf(PlannedFile file) => file.Kind == PlannedKind.GuideMix ? _roles.Guide
        : file.Kind == PlannedKind.FromZero && _choices[file.TrackId!].Treatment == Treatment.PrintDry ? _tracks[file.TrackId!]
        : null;

    /// <summary>Null for what is taken from no signal path: the click, and clips as they are.</summary>
    private MixPlace? PlaceOf(PlannedFile file)
    {
        switch (file.Kind)
        {
            case PlannedKind.Click:
            case PlannedKind.GuideMix when _roles.Guide is not null:
                return null;
            case PlannedKind.GuideMix:
                return MixOf(MixTracks.Of(plan.Session, plan.Preparation));
            case PlannedKind.FinishedMix:
                return MixOf(MixTracks.Of(plan.Session, plan.Preparation), finished: true);
            case PlannedKind.Stem:
                return MixOf(StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.ToHashSet(), dry: IsDryStem(file));
            default:
                return OfTrack(_tracks[file.TrackId!]);
        }
    }

    private MixPlace? OfTrack(Track track)
    {
        var choice = _choices[track.Id];
        var treatment = choice.Treatment;
        if (treatment == Treatment.PrintDry)
        {
            return null;
        }

        // A further form has the sound of its track.
        track = _tracks[choice.Of ?? track.Id];
        var kept = PrintEffects.Kept(track, choice);
        var session = kept == track ? plan.Session : plan.Session with { Tracks = [.. plan.Session.Tracks.Select(t => t.Id == track.Id ? kept : t)] };
        var sounding = track.Kind.IsSource() || _roles.PrintOf(track.Id) is not null ? new HashSet<string> { track.Id } : MixTracks.Of(plan.Session, plan.Preparation);
        return new MixPlace(session, kept, treatment switch { Treatment.PrintMixed => MixPoint.AfterPan, Treatment.PrintLevel => MixPoint.AfterFader, _ => MixPoint.AfterEffects }, sounding);
    }

    private MixPrint Open(MixPlace place, SampleRange range) => new(new MixRender(place.Session, place.Target, place.Point, place.Sounding, _sounds, range.Start), range);
}
