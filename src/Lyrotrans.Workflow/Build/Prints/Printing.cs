using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

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
        var shared = new SharedReturns(plan, files.Select(PlaceOf).OfType<MixPlace>(), _sounds, scratch, stop);
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

    /// <summary>How exact a file's sound is.</summary>
    /// <param name="encoding">What the samples are stored as.</param>
    public PrintRule RuleOf(PlannedFile file, SampleEncoding encoding, double gainDb = 0) =>
        gainDb == 0 && DryOf(file) is { } dry
            ? PrintRule.Of(plan.Session, dry, _choices[dry.Id], encoding, plan.Preparation, FactsOf(file, encoding))
            : PrintRule.OfMade(encoding, plan.Preparation, FactsOf(file, encoding));

    // What makes the print and does not change with its name or its samples; a listener of the same track in another form hears other noise.
    private string FactsOf(PlannedFile file, SampleEncoding encoding)
    {
        var of = file.Kind == PlannedKind.Stem ? string.Join(' ', StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.Order(StringComparer.Ordinal)) : file.TrackId;
        var form = file.Kind == PlannedKind.FromZero ? $"{_choices[file.TrackId!].Treatment}" : string.Empty;
        return FormattableString.Invariant($"{file.Kind}\n{form}\n{of}\n{file.Channel}\n{plan.Session.Rate}\n{encoding.Bits()}\n{plan.Range.Start}\n{plan.Range.End}");
    }

    /// <summary>The sound of the mix of some tracks, where stems are taken.</summary>
    public IPrint Mix(IReadOnlySet<string> sounding) => Open(MixOf(sounding));

    private MixPlace MixOf(IReadOnlySet<string> sounding)
    {
        var session = plan.Session;
        var master = SignalPaths.Of(session).Master;
        if (plan.Preparation.Mix.Master == StemMaster.Through)
        {
            return new MixPlace(session, master, MixPoint.AfterPan, sounding);
        }

        var bare = master with { Inserts = [] };
        var before = session with { Tracks = [.. session.Tracks.Where(t => t.Id != master.Id), bare] };
        return new MixPlace(before, bare, MixPoint.AfterEffects, sounding);
    }

    private bool IsInverted(PlannedFile file) => file.Kind == PlannedKind.FromZero && _choices[file.TrackId!].Inverted;

    /// <summary>Buffers of one block, a channel each.</summary>
    public static double[][] Planar(int channels) => Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();

    private IPrint Whole(PlannedFile file) => file.Kind == PlannedKind.Click ? new ClickPrint(plan)
        : PlaceOf(file) is { } place ? Open(place)
        : new DryPrint(plan.Session, DryOf(file)!, plan.Range, opener);

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
            case PlannedKind.Stem:
                return MixOf(StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.ToHashSet());
            default:
                return OfTrack(_tracks[file.TrackId!]);
        }
    }

    private MixPlace? OfTrack(Track track)
    {
        var treatment = _choices[track.Id].Treatment;
        if (treatment == Treatment.PrintDry)
        {
            return null;
        }

        var sounding = track.Kind.IsSource() || _roles.PrintOf(track.Id) is not null ? new HashSet<string> { track.Id } : MixTracks.Of(plan.Session, plan.Preparation);
        return new MixPlace(plan.Session, track, treatment == Treatment.PrintMixed ? MixPoint.AfterPan : MixPoint.AfterEffects, sounding);
    }

    private MixPrint Open(MixPlace place) => new(new MixRender(place.Session, place.Target, place.Point, place.Sounding, _sounds, plan.Range.Start), plan.Range);
}
