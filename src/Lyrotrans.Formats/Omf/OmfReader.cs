using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits.Chains;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Omf;

/// <summary>How an OMF file of version 1 or 2 says its compositions, with their timecode, comments and picture.</summary>
/// <remarks>docs/formats/omf.md, section 4.</remarks>
internal sealed class OmfReader : ChainReader<OmfObject>
{
    private const string MobId = "OMFI:MOBJ:MobID";
    private readonly OmfFile _file;
    private readonly OmfFormat _format;

    /// <exception cref="Core.Errors.BadInputException">There is no composition in it.</exception>
    public OmfReader(OmfFile file)
        : this(file, OmfFormat.Of(file))
    {
    }

    private OmfReader(OmfFile file, OmfFormat format)
        : base(format, file.Name, format.Compositions, m => MobOf(format, m)) => (_file, _format) = (file, format);

    public OmfMedia Sounds => _format.Media;

    protected override IReadOnlyDictionary<string, DocumentMedia> Media => _format.Media.Known;

    protected override IEnumerable<Rational?> MediaRates => _file.Mobs.Select(_format.Media.DescriptorOf).OfType<OmfObject>().Select(d => d.Ratio("OMFI:MDFL:SampleRate"));

    protected override IReadOnlyDictionary<string, string> Facts => new Dictionary<string, string>
    {
        ["omfVersion"] = _file.Version == 1 ? "1" : "2",
        ["byteOrder"] = _file.IsBigEndian ? "big" : "little",
        ["tocFormat"] = _file.Container.ContentsForm == 1 ? "1" : "2",
    };

    protected override ChainMob<OmfObject> MobOf(OmfObject composition) => MobOf(_format, composition);

    protected override string? NameOf(OmfObject composition) => _format.NameOf(composition);

    protected override bool IsPicture(OmfObject segment) => _format.IsPicture(segment);

    protected override string? PictureName(OmfObject part) =>
        part.Is("SCLP") && _format.SourceOf(part).Mob is { } id && _format.MobOf(id)?.Name is { Length: > 0 } name ? name : null;

    protected override (long Fps, bool Drop, long Start)? TimecodeOf(OmfObject segment) => segment.Is("TCCP")
        ? (segment.Whole("OMFI:TCCP:FPS") ?? 0, ((segment.Whole("OMFI:TCCP:Flags") ?? 0) & 1) == 1, segment.Whole("OMFI:TCCP:StartTC") ?? 0)
        : null;

    protected override IReadOnlyDictionary<string, string> Comments(OmfObject composition)
    {
        var comments = new Dictionary<string, string>();
        var list = composition.Object(_file.Version == 1 ? "OMFI:CPNT:Attributes" : "OMFI:MOBJ:UserAttributes");
        foreach (var attribute in list?.Objects("OMFI:ATTR:AttrRefs") ?? [])
        {
            if (attribute.Text("OMFI:ATTB:Name") is { Length: > 0 } name && attribute.Text("OMFI:ATTB:StringAttribute") is { } text)
            {
                comments[name] = text;
            }
        }

        return comments;
    }

    private static ChainMob<OmfObject> MobOf(OmfFormat format, OmfObject composition) => format.MobOf(composition.MobId(MobId) ?? string.Empty, composition);
}
