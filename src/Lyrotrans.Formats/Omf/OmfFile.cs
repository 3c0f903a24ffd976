using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Bento;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf;

/// <summary>An OMF file opened as objects: its mobs by identifier, and the sound inside it.</summary>
/// <remarks>docs/formats/omf.md, sections 1 and 2.</remarks>
internal sealed class OmfFile
{
    private const int DeepestClass = 40;
    private const int MostText = 1024;
    private readonly Dictionary<uint, OmfObject> _objects = [];
    private readonly Dictionary<string, string> _parents = [];
    private readonly Dictionary<(string, string), bool> _is = [];

    private OmfFile(Stream stream, string name)
    {
        Name = name;
        Container = BentoFile.Open(stream, name);
        Header = new OmfObject(this, BentoIds.Container);
        Texts = OmfText.Of([]);
        Version = Header.Has("OMFI:HEAD:Version") || Header.Has("OMFI:OOBJ:ObjClass") ? 2
            : Header.Has("OMFI:Version") || Header.Has("OMFI:ObjID") ? 1
            : throw new BadInputException(OmfCodes.NoHeader, name, string.Empty, "It is a Bento container without an OMF header.", "Check what it is.");
        Texts = OmfText.Of(StringsOf(Container));
        Findings.AddRange(Container.Findings.Concat(Texts.Finding is { } doubt ? [doubt] : []));
        foreach (var type in Header.Objects(Version == 1 ? "OMFI:ClassDictionary" : "OMFI:HEAD:ClassDictionary"))
        {
            if (TagOf(type) is { } own && type.Object("OMFI:CLSD:ParentClass") is { } parent && TagOf(parent) is { } above)
            {
                _parents.TryAdd(own, above);
            }
        }

        Mobs = [.. Listed(Version == 1 ? "OMFI:ObjectSpine" : "OMFI:HEAD:Mobs", "MOBJ").Where(m => m.Is("MOBJ")).DistinctBy(m => m.Id)];
        ById = [];
        foreach (var mob in Mobs)
        {
            if (mob.MobId("OMFI:MOBJ:MobID") is { } id && !ById.TryAdd(id, mob))
            {
                Findings.Add(ChainCodes.SameMob, id, $"Two mobs have the identifier {id}; the first is used.");
            }
        }

        Sound = [];
        foreach (var data in Listed(Version == 1 ? "OMFI:MediaData" : "OMFI:HEAD:MediaData", "MDAT"))
        {
            if (data.MobId("OMFI:MDAT:MobID") is { } id)
            {
                Sound.TryAdd(id, data);
            }
        }
    }

    public string Name { get; }

    public BentoFile Container { get; }

    /// <summary>1 or 2.</summary>
    public int Version { get; }

    public bool IsBigEndian => Container.IsBigEndian;

    public OmfObject Header { get; }

    public OmfText Texts { get; private set; }

    public IReadOnlyList<OmfObject> Mobs { get; }

    public Dictionary<string, OmfObject> ById { get; }

    /// <summary>Sound inside the file, by its source mob.</summary>
    public Dictionary<string, OmfObject> Sound { get; }

    /// <summary>What was met and not used.</summary>
    public FindingList Findings { get; } = [];

    /// <param name="stream">Seekable; must outlive the file.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">Not an OMF file, or too damaged to open.</exception>
    public static OmfFile Open(Stream stream, string name) => new(stream, name);

    public OmfObject? Object(uint id) =>
        _objects.TryGetValue(id, out var known) ? known : Container.Has(id) && id != BentoIds.Container ? _objects[id] = new OmfObject(this, id) : null;

    public bool Is(string own, string type) => own == type || (_is.TryGetValue((own, type), out var known) ? known : _is[(own, type)] = Below(own, type));

    /// <summary>The nearest class of the model.</summary>
    public string Known(string own)
    {
        for (var steps = 0; steps < DeepestClass && OmfClasses.ParentOf(own, Version) is null && _parents.TryGetValue(own, out var parent); steps++)
        {
            own = parent;
        }

        return own;
    }

    // Numbers in an identifier are of the file's byte order; as text they are the same whichever it is.
    public string HexOf(byte[] id)
    {
        if (IsBigEndian || id.Length != 12)
        {
            return Convert.ToHexStringLower(id);
        }

        var turned = (byte[])id.Clone();
        for (var at = 0; at < turned.Length; at += 4)
        {
            turned.AsSpan(at, 4).Reverse();
        }

        return Convert.ToHexStringLower(turned);
    }

    private bool Below(string own, string type)
    {
        for (var (at, steps) = (own, 0); steps < DeepestClass; steps++)
        {
            if ((OmfClasses.ParentOf(at, Version) ?? _parents.GetValueOrDefault(at)) is not { } parent)
            {
                return false;
            }

            if (parent == type)
            {
                return true;
            }

            at = parent;
        }

        return false;
    }

    // What the header lists; where it does not, every object of that class.
    private IEnumerable<OmfObject> Listed(string property, string type) =>
        Header.Has(property) ? Header.Objects(property) : Container.Objects.Order().Select(Object).OfType<OmfObject>().Where(o => o.Is(type));

    private static string? TagOf(OmfObject type) => type.Bytes("OMFI:CLSD:ClassID") is { Length: 4 } bytes ? System.Text.Encoding.Latin1.GetString(bytes) : null;

    private static IEnumerable<byte[]> StringsOf(BentoFile container)
    {
        var types = container.IdsOf("omfi:String").ToHashSet();
        return container.Objects.SelectMany(o => container.Values(o)).Where(v => types.Contains(v.Type)).Select(v => container.Read(v, MostText));
    }
}
