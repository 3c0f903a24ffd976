using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Routing;

namespace Lyrotrans.Core.Carrying;

/// <summary>An output of a package: a column of the carry plan.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Format">Of a file of clips, its format; null for every other.</param>
public readonly record struct CarryOutput(OutputKind Kind, ClipFormat? Format = null)
{
    /// <summary>For people, short.</summary>
    public string Name => Kind switch
    {
        OutputKind.Prints => "prints",
        OutputKind.Stems => "stems",
        OutputKind.GuideMix => "guide mix",
        OutputKind.FinishedMix => "finished mix",
        OutputKind.Clips => Format!.Id,
        OutputKind.Picture => "picture",
        OutputKind.Midi => "MIDI",
        OutputKind.MarkerList => "marker list",
        _ => "record",
    };

    /// <summary>The outputs that a delivery writes.</summary>
    public static ValueArray<CarryOutput> Written(DeliveryPlan plan)
    {
        var kinds = plan.Files.Select(f => f.Kind).ToHashSet();
        return Of(kind => kind switch
        {
            OutputKind.Prints => kinds.Contains(PlannedKind.FromZero),
            OutputKind.Stems => kinds.Contains(PlannedKind.Stem),
            OutputKind.GuideMix => kinds.Contains(PlannedKind.GuideMix),
            OutputKind.FinishedMix => kinds.Contains(PlannedKind.FinishedMix),
            OutputKind.Clips => plan.Clips is not null,
            OutputKind.Picture => plan.Picture is not null,
            OutputKind.MarkerList => kinds.Contains(PlannedKind.MarkerList),
            _ => true,
        }, [plan.Preparation.Clips.Format]);
    }

    /// <summary>The outputs that a delivery could write without another treatment of any track.</summary>
    /// <param name="plan">The delivery.</param>
    /// <param name="formats">The formats of clips that its receiver takes, best first.</param>
    public static ValueArray<CarryOutput> Possible(DeliveryPlan plan, IEnumerable<ClipFormat> formats)
    {
        var (session, preparation) = (plan.Session, plan.Preparation);
        var (mixed, written) = (MixTracks.Of(session, preparation).Count > 0, Written(plan).Select(o => o.Kind).ToHashSet());
        return Of(kind => kind switch
        {
            OutputKind.Stems => StemGroup.AllOf(session, preparation).Count > 0,
            OutputKind.GuideMix => mixed || TrackRoles.Of(session).Guide is not null,
            OutputKind.FinishedMix => mixed,
            OutputKind.Picture => session.Picture is { IsThere: true },
            _ => written.Contains(kind),
        }, formats);
    }

    private static ValueArray<CarryOutput> Of(Func<OutputKind, bool> goes, IEnumerable<ClipFormat> formats) =>
        [.. Enum.GetValues<OutputKind>().Where(goes).SelectMany(kind => kind == OutputKind.Clips ? formats.Select(f => new CarryOutput(kind, f)) : [new CarryOutput(kind)])];
}
