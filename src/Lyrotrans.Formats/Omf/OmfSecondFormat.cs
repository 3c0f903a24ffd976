using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf;

/// <summary>How version 2 says the segments of a chain.</summary>
/// <remarks>docs/formats/omf.md, section 4.</remarks>
internal sealed class OmfSecondFormat(OmfFile file) : OmfFormat(file)
{
    private const int EqualPower = 2;

    public override IReadOnlyList<OmfObject> Compositions { get; } =
        [.. file.Header.Objects("OMFI:HEAD:PrimaryMobs").Where(m => m.Is("CMOB")).Concat(file.Mobs.Where(m => m.Is("CMOB"))).DistinctBy(m => m.Id)];

    public override SegmentKind KindOf(OmfObject segment) => File.Known(segment.Class) switch
    {
        "SEQU" => SegmentKind.Sequence,
        "SCLP" => SegmentKind.Source,
        "FILL" => SegmentKind.Silence,
        "TRAN" => SegmentKind.Transition,
        "EFFE" => EffectOf(segment) switch
        {
            "omfi:effect:MonoAudioGain" or "omfi:effect:StereoAudioGain" => SegmentKind.Gain,
            "omfi:effect:MonoAudioPan" => SegmentKind.Pan,
            _ => SegmentKind.Operation,
        },
        "SLCT" => SegmentKind.Selector,
        "MGRP" => SegmentKind.Group,
        "NEST" => SegmentKind.Scope,
        "SREF" => SegmentKind.Reference,
        "ERAT" => SegmentKind.Conversion,
        _ => SegmentKind.Other,
    };

    public override string WordFor(OmfObject segment) => segment.Is("EFFE") ? EffectOf(segment) : segment.Class;

    public override long LengthOf(OmfObject segment) => Math.Max(0, segment.Whole("OMFI:CPNT:Length") ?? 0);

    public override Rational? EditRateOf(OmfObject segment) => null;

    public override IEnumerable<OmfObject> PartsOf(OmfObject segment) => segment.Objects(segment.Is("NEST") ? "OMFI:NEST:Slots" : "OMFI:SEQU:Components");

    public override OmfObject? InputOf(OmfObject segment) => File.Known(segment.Class) switch
    {
        "ERAT" => segment.Object("OMFI:ERAT:InputSegment"),
        "MGRP" => segment.Objects("OMFI:MGRP:Choices").FirstOrDefault(),
        _ => OmfLevels.Input(segment),
    };

    public override OmfObject? SelectedOf(OmfObject selector) => selector.Object("OMFI:SLCT:Selected");

    public override IEnumerable<OmfObject> AlternatesOf(OmfObject selector) => selector.Objects("OMFI:SLCT:Alternates");

    public override (long Scope, long Slot) ReferenceOf(OmfObject reference) => (reference.Whole("OMFI:SREF:RelativeScope") ?? 0, reference.Whole("OMFI:SREF:RelativeSlot") ?? 0);

    public override ChainSource SourceOf(OmfObject clip) =>
        new(clip.MobId("OMFI:SCLP:SourceID"), clip.Whole("OMFI:SCLP:SourceTrackID") ?? 0, clip.Whole("OMFI:SCLP:StartTime") ?? 0, 0);

    public override (EditFade? In, EditFade? Out) FadesOf(OmfObject clip, Rational unit)
    {
        return (Of("OMFI:SCLP:FadeInLength", "OMFI:SCLP:FadeInType"), Of("OMFI:SCLP:FadeOutLength", "OMFI:SCLP:FadeOutType"));
        EditFade? Of(string length, string type) => clip.Whole(length) is { } n and > 0 && clip.Whole(type) is { } kind and > 0
            ? new EditFade(n * unit, kind == EqualPower ? FadeShape.EqualPower : FadeShape.Linear)
            : null;
    }

    public override (EditFade Out, EditFade In) TransitionOf(OmfObject transition, Rational length)
    {
        var effect = transition.Object("OMFI:TRAN:Effect");
        return OmfLevels.Fades(File, effect, effect is null ? string.Empty : EffectOf(effect), length);
    }

    public override (Rational InputRate, long InputOffset, long ResultOffset) ConversionOf(OmfObject segment) =>
        (segment.Ratio("OMFI:ERAT:InputEditRate") ?? 0, segment.Whole("OMFI:ERAT:InputOffset") ?? 0, segment.Whole("OMFI:ERAT:ResultOffset") ?? 0);

    public override bool IsSound(OmfObject segment) => DataOf(segment).Contains("Sound", StringComparison.Ordinal);

    public override bool IsPicture(OmfObject segment) => DataOf(segment).Contains("Picture", StringComparison.Ordinal);

    public override string? NameOf(OmfObject mob) => mob.Text("OMFI:MOBJ:Name");

    public override ChainMob<OmfObject> MobOf(string id, OmfObject mob) => new(id, () => mob.Objects("OMFI:MOBJ:Slots").Take(MostSlots).Select(SlotOf), IsSound)
    {
        Name = NameOf(mob),
        IsFile = Media.DescriptorOf(mob) is not null,
        IsMaster = mob.Is("MMOB"),
        IsComposition = mob.Is("CMOB"),
    };

    private static ChainSlot<OmfObject> SlotOf(OmfObject slot)
    {
        var track = slot.Object("OMFI:MSLT:TrackDesc");
        return new ChainSlot<OmfObject>(track?.Whole("OMFI:TRKD:TrackID") ?? 0, () => slot.Object("OMFI:MSLT:Segment"))
        {
            Name = track?.Text("OMFI:TRKD:TrackName"),
            Number = (int?)track?.Whole("OMFI:TRKD:PhysicalTrack"),
            EditRate = slot.Ratio("OMFI:MSLT:EditRate"),
            Origin = track?.Whole("OMFI:TRKD:Origin") ?? 0,
        };
    }

    private static string EffectOf(OmfObject effect) => effect.Object("OMFI:EFFE:EffectKind")?.Text("OMFI:EDEF:EffectID") ?? "without a name";

    private static string DataOf(OmfObject segment) => segment.Object("OMFI:CPNT:DataKind")?.Text("OMFI:DDEF:DataKindID") ?? string.Empty;
}
