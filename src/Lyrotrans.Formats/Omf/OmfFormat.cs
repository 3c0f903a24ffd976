using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Omf;

/// <summary>What both versions of OMF say the same way about the segments of a chain.</summary>
/// <remarks>docs/formats/omf.md, section 4.</remarks>
internal abstract class OmfFormat(OmfFile file) : IChainFormat<OmfObject>
{
    protected const int MostSlots = 4_000;
    private readonly Dictionary<string, ChainMob<OmfObject>> _mobs = [];

    public OmfMedia Media { get; } = new(file);

    public int Entries => file.Container.Entries;

    protected OmfFile File => file;

    public static OmfFormat Of(OmfFile file) => file.Version == 1 ? new OmfFirstFormat(file) : new OmfSecondFormat(file);

    public abstract SegmentKind KindOf(OmfObject segment);

    public abstract string WordFor(OmfObject segment);

    public abstract long LengthOf(OmfObject segment);

    public abstract Rational? EditRateOf(OmfObject segment);

    public abstract IEnumerable<OmfObject> PartsOf(OmfObject segment);

    public abstract OmfObject? InputOf(OmfObject segment);

    public abstract OmfObject? SelectedOf(OmfObject selector);

    public abstract IEnumerable<OmfObject> AlternatesOf(OmfObject selector);

    public abstract (long Scope, long Slot) ReferenceOf(OmfObject reference);

    public abstract ChainSource SourceOf(OmfObject clip);

    public abstract (EditFade? In, EditFade? Out) FadesOf(OmfObject clip, Rational unit);

    public string NoteOf(OmfObject clip) => string.Empty;

    public abstract (EditFade Out, EditFade In) TransitionOf(OmfObject transition, Rational length);

    public abstract (Rational InputRate, long InputOffset, long ResultOffset) ConversionOf(OmfObject segment);

    public abstract bool IsSound(OmfObject segment);

    public abstract bool IsPicture(OmfObject segment);

    /// <summary>Compositions, the one that is meant first.</summary>
    public abstract IReadOnlyList<OmfObject> Compositions { get; }

    public (double? Constant, EditCurve Points) ParameterOf(OmfObject group, Rational length) => OmfLevels.Value(group, length);

    public DocumentMedia MediaOf(ChainMob<OmfObject> mob, string? clipName) => Media.Of(mob.Id, mob.Name, Media.DescriptorOf(file.ById[mob.Id])!, clipName);

    public DocumentMedia UnknownMedia(string id, string? clipName) => Media.Unknown(id, clipName);

    public FindingList Findings => file.Findings;

    public ChainMob<OmfObject>? MobOf(string id) =>
        _mobs.TryGetValue(id, out var known) ? known : file.ById.TryGetValue(id, out var mob) ? _mobs[id] = MobOf(id, mob) : null;

    public abstract ChainMob<OmfObject> MobOf(string id, OmfObject mob);

    public abstract string? NameOf(OmfObject mob);
}
