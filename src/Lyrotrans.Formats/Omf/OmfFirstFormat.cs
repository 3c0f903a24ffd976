using System.Buffers.Binary;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf;

/// <summary>How version 1 says the segments of a chain: every component with an edit rate of its own, and groups of tracks for mobs, effects and nesting.</summary>
/// <remarks>docs/formats/omf.md, section 4.</remarks>
internal sealed class OmfFirstFormat : OmfFormat
{
    private const int PictureKind = 1;
    private const int SoundKind = 2;
    private const int IndexEntryBytes = 20;

    public OmfFirstFormat(OmfFile file)
        : base(file) => Compositions = FindCompositions(file);

    public override IReadOnlyList<OmfObject> Compositions { get; }

    public override SegmentKind KindOf(OmfObject segment) => File.Known(segment.Class) switch
    {
        "SEQU" => SegmentKind.Sequence,
        "SCLP" => SegmentKind.Source,
        "FILL" => SegmentKind.Silence,
        "TRAN" => SegmentKind.Transition,
        "SLCT" => SegmentKind.Selector,
        "TRKR" => SegmentKind.Reference,
        "TRKG" when !segment.Has("OMFI:CPNT:EffectID") => SegmentKind.Scope,
        "TRKG" or "WARP" or "SPED" or "PVOL" or "REPT" or "MASK" => SegmentKind.Operation,
        _ => SegmentKind.Other,
    };

    public override string WordFor(OmfObject segment) => segment.Text("OMFI:CPNT:EffectID") is { Length: > 0 } effect ? effect : segment.Class;

    public override long LengthOf(OmfObject segment) => Math.Max(0, segment.Whole("OMFI:CLIP:Length") ?? segment.Whole("OMFI:TRKG:GroupLength") ?? 0);

    public override Rational? EditRateOf(OmfObject segment) => segment.Ratio("OMFI:CPNT:EditRate");

    public override IEnumerable<OmfObject> PartsOf(OmfObject segment) => segment.Is("TRKG") ? Tracks(segment) : segment.Objects("OMFI:SEQU:Sequence");

    public override OmfObject? InputOf(OmfObject segment) => Tracks(segment).FirstOrDefault();

    public override OmfObject? SelectedOf(OmfObject selector) => selector.Whole("OMFI:SLCT:SelectedTrack") is { } chosen ? Track(selector, chosen) : Tracks(selector).FirstOrDefault();

    public override IEnumerable<OmfObject> AlternatesOf(OmfObject selector)
    {
        var selected = SelectedOf(selector);
        return Tracks(selector).Where(t => t.Id != selected?.Id);
    }

    public override (long Scope, long Slot) ReferenceOf(OmfObject reference) =>
        (Math.Abs(reference.Whole("OMFI:TRKR:RelativeScope") ?? 0), Math.Abs(reference.Whole("OMFI:TRKR:RelativeTrack") ?? 0));

    public override ChainSource SourceOf(OmfObject clip) =>
        new(clip.MobId("OMFI:SCLP:SourceID"), clip.Whole("OMFI:SCLP:SourceTrack") ?? 0, clip.Whole("OMFI:SCLP:SourcePosition") ?? 0, 0);

    public override (EditFade? In, EditFade? Out) FadesOf(OmfObject clip, Rational unit) => (null, null);

    public override (EditFade Out, EditFade In) TransitionOf(OmfObject transition, Rational length) =>
        OmfLevels.Fades(File, null, transition.Text("OMFI:CPNT:EffectID") ?? string.Empty, length);

    public override (Rational InputRate, long InputOffset, long ResultOffset) ConversionOf(OmfObject segment) => default;

    public override bool IsSound(OmfObject segment) => segment.Whole("OMFI:CPNT:TrackKind") == SoundKind;

    public override bool IsPicture(OmfObject segment) => segment.Whole("OMFI:CPNT:TrackKind") == PictureKind;

    public override string? NameOf(OmfObject mob) => mob.Text("OMFI:CPNT:Name");

    public override ChainMob<OmfObject> MobOf(string id, OmfObject mob)
    {
        var isComposition = Compositions.Any(c => c.Id == mob.Id);
        return new ChainMob<OmfObject>(id, () => mob.Objects("OMFI:TRKG:Tracks").Take(MostSlots).Select(t => SlotOf(mob, t)), IsSound)
        {
            Name = NameOf(mob),
            IsFile = Media.DescriptorOf(mob) is not null,
            IsMaster = !isComposition && !mob.Has("OMFI:MOBJ:PhysicalMedia"),
            IsComposition = isComposition,
        };
    }

    private static ChainSlot<OmfObject> SlotOf(OmfObject mob, OmfObject track) => new(track.Whole("OMFI:TRAK:LabelNumber") ?? 0, () => track.Object("OMFI:TRAK:TrackComponent"))
    {
        Name = track.Object("OMFI:TRAK:TrackComponent")?.Text("OMFI:CPNT:Name"),
        Number = (int?)track.Whole("OMFI:TRAK:LabelNumber"),
        EditRate = mob.Ratio("OMFI:CPNT:EditRate"),
        Origin = track.Whole("OMFI:TRAK:StartPos") ?? 0,
    };

    private static IEnumerable<OmfObject> Tracks(OmfObject group) => group.Objects("OMFI:TRKG:Tracks").Take(MostSlots).Select(t => t.Object("OMFI:TRAK:TrackComponent")).OfType<OmfObject>();

    private static OmfObject? Track(OmfObject group, long label)
    {
        var tracks = group.Objects("OMFI:TRKG:Tracks").Take(MostSlots).ToList();
        var chosen = tracks.Find(t => t.Whole("OMFI:TRAK:LabelNumber") == label) ?? (label >= 0 && label < tracks.Count ? tracks[(int)label] : null);
        return chosen?.Object("OMFI:TRAK:TrackComponent");
    }

    // By the index in the header; else every mob that has no medium and that no other refers to.
    private static List<OmfObject> FindCompositions(OmfFile file)
    {
        var index = file.Header.Bytes("OMFI:CompositionMobs") ?? [];
        var found = new List<OmfObject>();
        for (var at = 2; at + IndexEntryBytes <= index.Length; at += IndexEntryBytes)
        {
            var word = index.AsSpan(at + 12);
            if (file.Object(file.IsBigEndian ? BinaryPrimitives.ReadUInt32BigEndian(word) : BinaryPrimitives.ReadUInt32LittleEndian(word)) is { } mob && mob.Is("MOBJ"))
            {
                found.Add(mob);
            }
        }

        return found.Count > 0 ? found : [.. file.Mobs.Where(m => !m.Has("OMFI:MOBJ:PhysicalMedia")).Reverse()];
    }
}
