using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Aaf;

/// <summary>How an AAF file says its compositions, with their markers, timecode, comments and picture.</summary>
/// <remarks>docs/formats/aaf.md, sections 3 and 7.</remarks>
internal sealed class AafReader : ChainReader<AafObject>
{
    private static readonly Guid s_topLevel = new("0d010102-0101-0700-060e-2b3404010101");
    private readonly AafFile _file;
    private readonly AafFormat _format;

    /// <exception cref="Core.Errors.BadInputException">There is no composition in it.</exception>
    public AafReader(AafFile file)
        : this(file, new AafFormat(file))
    {
    }

    private AafReader(AafFile file, AafFormat format)
        : base(format, file.Name, [.. file.Mobs.Where(m => m.Is("CompositionMob"))], m => MobOf(format, m)) => (_file, _format) = (file, format);

    protected override IReadOnlyDictionary<string, DocumentMedia> Media => _format.Media.Known;

    protected override IEnumerable<Rational?> MediaRates =>
        _file.Mobs.Select(m => m.Object(AafPid.EssenceDescription)).OfType<AafObject>().Select(d => d.Ratio(AafPid.AudioSamplingRate) ?? d.Ratio(AafPid.FileSampleRate));

    protected override ChainMob<AafObject> MobOf(AafObject composition) => MobOf(_format, composition);

    protected override string? NameOf(AafObject composition) => composition.Text(AafPid.MobName);

    protected override bool IsTop(AafObject composition) => composition.Id(AafPid.UsageCode) == s_topLevel;

    protected override bool IsPicture(AafObject segment) => _format.Kinds.IsPicture(segment);

    protected override string? PictureName(AafObject part) => part.MobId(AafPid.SourceId) is { } id ? _format.Media.LocatorOf(id) : null;

    protected override IEnumerable<ChainSlot<AafObject>> InTimecodeOrder(IReadOnlyList<ChainSlot<AafObject>> slots) => slots.OrderBy(s => s.Number == 1 ? 0 : 1);

    protected override (long Fps, bool Drop, long Start)? TimecodeOf(AafObject segment) => segment.Is("Timecode")
        ? (segment.Whole(AafPid.TimecodeFps) ?? 0, segment.Whole(AafPid.TimecodeDrop) == 1, segment.Whole(AafPid.TimecodeStart) ?? 0)
        : null;

    protected override IEnumerable<EditMarker> Markers(AafObject composition, SampleRate rate)
    {
        AafMarkers? markers = null;
        foreach (var slot in composition.Objects(AafPid.Slots).Take(AafFormat.MostSlots).Where(s => s.Is("EventMobSlot")))
        {
            var unit = slot.Ratio(AafPid.EventEditRate) is { Sign: > 0 } editRate ? rate.PerSecond / editRate : 1;
            var segment = slot.Object(AafPid.SlotSegment);
            var events = segment is null ? [] : segment.Is("Sequence") ? segment.Objects(AafPid.Components) : [segment];
            foreach (var marker in events.Where(e => e.Is("CommentMarker")))
            {
                yield return (markers ??= new AafMarkers(_file)).Read(marker, unit);
            }
        }
    }

    protected override IReadOnlyDictionary<string, string> Comments(AafObject composition)
    {
        var comments = new Dictionary<string, string>();
        foreach (var comment in composition.Objects(AafPid.UserComments))
        {
            if (comment.Text(AafPid.TaggedName) is { } name && comment.Indirect(AafPid.TaggedValue) is { } value)
            {
                comments[name] = AafObject.TextOf(value.Span);
            }
        }

        return comments;
    }

    private static ChainMob<AafObject> MobOf(AafFormat format, AafObject composition) => format.MobOf(composition.MobId(AafPid.MobId) ?? string.Empty, composition);
}
