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
    private readonly Dictionary<string, TrackChoice> _choices = plan.Preparation.Tracks.ToDictionary(c => c.TrackId);
    private readonly MixSounds _sounds = new(opener, notes);

    /// <summary>Identifiers of media that have no sound, so that no clip of them arrives.</summary>
    public IReadOnlySet<string> Silent { get; init; } = new HashSet<string>();

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
        gainDb == 0 && file.Kind == PlannedKind.FromZero && _choices[file.TrackId!].Treatment == Treatment.PrintDry
            ? PrintRule.Of(plan.Session, _tracks[file.TrackId!], _choices[file.TrackId!], encoding, plan.Preparation, FactsOf(file, encoding))
            : PrintRule.OfMade(encoding, plan.Preparation, FactsOf(file, encoding));

    // What makes the print and does not change with its name or its samples; a listener of the same track in another form hears other noise.
    private string FactsOf(PlannedFile file, SampleEncoding encoding)
    {
        var of = file.Kind == PlannedKind.Stem ? string.Join(' ', StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.Order(StringComparer.Ordinal)) : file.TrackId;
        var form = file.Kind == PlannedKind.FromZero ? $"{_choices[file.TrackId!].Treatment}" : string.Empty;
        return FormattableString.Invariant($"{file.Kind}\n{form}\n{of}\n{file.Channel}\n{plan.Session.Rate}\n{encoding.Bits()}\n{plan.Range.Start}\n{plan.Range.End}");
    }

    /// <summary>The sound of the mix of all that goes, or of some of its tracks, where stems are taken.</summary>
    public IPrint Mix(IReadOnlySet<string> sounding)
    {
        var session = plan.Session;
        var master = SignalPaths.Of(session).Master;
        if (plan.Preparation.Mix.Master == StemMaster.Through)
        {
            return Mixed(session, master, MixPoint.AfterPan, sounding);
        }

        var bare = master with { Inserts = [] };
        var before = session with { Tracks = [.. session.Tracks.Where(t => t.Id != master.Id), bare] };
        return Mixed(before, bare, MixPoint.AfterEffects, sounding);
    }

    private bool IsInverted(PlannedFile file) => file.Kind == PlannedKind.FromZero && _choices[file.TrackId!].Inverted;

    /// <summary>Buffers of one block, a channel each.</summary>
    public static double[][] Planar(int channels) => Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();

    private IPrint Whole(PlannedFile file)
    {
        switch (file.Kind)
        {
            case PlannedKind.Click:
                return new ClickPrint(plan);
            case PlannedKind.GuideMix:
                return Mix(StemGroup.InMix(plan.Session, plan.Preparation));
            case PlannedKind.Stem:
                return Mix(StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.ToHashSet());
            default:
                return OfTrack(_tracks[file.TrackId!]);
        }
    }

    private IPrint OfTrack(Track track)
    {
        var treatment = _choices[track.Id].Treatment;
        if (treatment == Treatment.PrintDry)
        {
            return new DryPrint(plan.Session, track, plan.Range, opener);
        }

        var sounding = track.Kind is TrackKind.Audio or TrackKind.Notes ? new HashSet<string> { track.Id } : StemGroup.InMix(plan.Session, plan.Preparation);
        return Mixed(plan.Session, track, treatment == Treatment.PrintMixed ? MixPoint.AfterPan : MixPoint.AfterEffects, sounding);
    }

    private MixPrint Mixed(Session session, Track target, MixPoint point, IReadOnlySet<string> sounding) =>
        new(new MixRender(session, target, point, sounding, _sounds, plan.Range.Start), plan.Range);
}
