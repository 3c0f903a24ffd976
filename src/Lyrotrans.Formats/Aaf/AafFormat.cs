using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Sessions;
using System.Buffers.Binary;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf;

/// <summary>How AAF says the segments of a chain.</summary>
/// <remarks>docs/formats/aaf.md, sections 3 and 5.</remarks>
internal sealed class AafFormat : IChainFormat<AafObject>
{
    /// <summary>More slots than a session has tracks.</summary>
    public const int MostSlots = 4_000;
    private static readonly Guid s_amplitude = AafModel.Definition("ParameterDef_Amplitude");
    private static readonly Guid s_pan = AafModel.Definition("ParameterDef_Pan");
    private readonly AafFile _file;
    private readonly AafParameter _parameters;
    private readonly Dictionary<string, ChainMob<AafObject>> _mobs = [];

    public AafFormat(AafFile file)
    {
        _file = file;
        _parameters = new AafParameter(file);
        Kinds = new AafKinds(file);
        Media = new AafMedia(file, Kinds);
    }

    public AafKinds Kinds { get; }

    public AafMedia Media { get; }

    public int Entries => _file.Container.Entries;

    public SegmentKind KindOf(AafObject segment) => segment switch
    {
        _ when segment.Is("Sequence") => SegmentKind.Sequence,
        _ when segment.Is("SourceClip") => SegmentKind.Source,
        _ when segment.Is("Filler") => SegmentKind.Silence,
        _ when segment.Is("Transition") => SegmentKind.Transition,
        _ when segment.Is("OperationGroup") => AafKinds.IsGain(segment) ? SegmentKind.Gain : AafKinds.IsPan(segment) ? SegmentKind.Pan : SegmentKind.Operation,
        _ when segment.Is("Selector") => SegmentKind.Selector,
        _ when segment.Is("EssenceGroup") => SegmentKind.Group,
        _ when segment.Is("NestedScope") => SegmentKind.Scope,
        _ when segment.Is("ScopeReference") => SegmentKind.Reference,
        _ => SegmentKind.Other,
    };

    public string WordFor(AafObject segment) => !segment.Is("OperationGroup") ? segment.Class : segment.Weak(AafPid.Operation) is { } id ? _file.NameOf(id) : "without a name";

    public long LengthOf(AafObject segment) => Math.Max(0, segment.Whole(AafPid.Length) ?? 0);

    public Rational? EditRateOf(AafObject segment) => null;

    public IEnumerable<AafObject> PartsOf(AafObject segment) => segment.Objects(segment.Is("NestedScope") ? AafPid.ScopeSlots : AafPid.Components);

    public AafObject? InputOf(AafObject segment) => segment.Object(segment.Is("EssenceGroup") ? AafPid.EssenceGroupChoices : AafPid.InputSegments);

    public AafObject? SelectedOf(AafObject selector) => selector.Object(AafPid.Selected);

    public IEnumerable<AafObject> AlternatesOf(AafObject selector) => selector.Objects(AafPid.Alternates);

    public (long Scope, long Slot) ReferenceOf(AafObject reference) => (reference.Whole(AafPid.RelativeScope) ?? 0, reference.Whole(AafPid.RelativeSlot) ?? 0);

    public ChainSource SourceOf(AafObject clip) => new(
        clip.MobId(AafPid.SourceId), clip.Whole(AafPid.SourceMobSlotId) ?? 0, clip.Whole(AafPid.StartTime) ?? 0,
        clip.Bytes(AafPid.ChannelIds) is { Length: >= 4 } ids ? BinaryPrimitives.ReadInt32LittleEndian(ids.Span) : 0);

    public (Rational InputRate, long InputOffset, long ResultOffset) ConversionOf(AafObject segment) => default;

    public string NoteOf(AafObject clip) => string.Join(
        "; ", clip.Objects(AafPid.ComponentComments).Where(c => c.Is("TaggedValue") && c.Text(AafPid.TaggedName) == AafPid.NoteName).Select(c => c.Indirect(AafPid.TaggedValue)).OfType<ReadOnlyMemory<byte>>().Select(v => AafObject.TextOf(v.Span)));

    public (EditFade? In, EditFade? Out) FadesOf(AafObject clip, Rational unit)
    {
        return (Of(AafPid.FadeInLength, AafPid.FadeInType), Of(AafPid.FadeOutLength, AafPid.FadeOutType));
        EditFade? Of(ushort length, ushort type) => clip.Whole(length) is { } n and > 0 && clip.Whole(type) is { } kind and > 0
            ? new EditFade(n * unit, kind == 2 ? FadeShape.EqualPower : FadeShape.Linear)
            : null;
    }

    public (EditFade Out, EditFade In) TransitionOf(AafObject transition, Rational length) => _parameters.Fades(transition, length);

    public (double? Constant, EditCurve Points) ParameterOf(AafObject group, Rational length) => _parameters.Value(group, AafKinds.IsPan(group) ? s_pan : s_amplitude, length);

    public ChainMob<AafObject>? MobOf(string id) =>
        _mobs.TryGetValue(id, out var known) ? known : _file.ById.TryGetValue(id, out var mob) ? _mobs[id] = MobOf(id, mob) : null;

    public DocumentMedia MediaOf(ChainMob<AafObject> mob, string? clipName) => Media.Of(mob.Id, _file.ById[mob.Id], clipName);

    public DocumentMedia UnknownMedia(string id, string? clipName) => Media.Unknown(id, clipName);

    public FindingList Findings => _file.Findings;

    /// <summary>A mob as chains see it.</summary>
    public ChainMob<AafObject> MobOf(string id, AafObject mob) => new(id, () => mob.Objects(AafPid.Slots).Take(MostSlots).Select(SlotOf), Kinds.IsSound)
    {
        Name = mob.Text(AafPid.MobName),
        IsFile = mob.Object(AafPid.EssenceDescription) is { } descriptor && descriptor.Is("FileDescriptor"),
        IsMaster = mob.Is("MasterMob"),
        IsComposition = mob.Is("CompositionMob"),
    };

    private static ChainSlot<AafObject> SlotOf(AafObject slot) => new(slot.Whole(AafPid.SlotId) ?? 0, () => slot.Object(AafPid.SlotSegment))
    {
        Name = slot.Text(AafPid.SlotName),
        Number = (int?)slot.Whole(AafPid.PhysicalTrackNumber),
        EditRate = slot.Ratio(AafPid.EditRate),
        Origin = slot.Whole(AafPid.Origin) ?? 0,
    };
}
