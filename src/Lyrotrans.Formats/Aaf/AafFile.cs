using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf;

/// <summary>An AAF file opened as objects: its mobs by identifier, its definitions' names, and its embedded essence.</summary>
/// <remarks>docs/formats/aaf.md, section 2.</remarks>
internal sealed class AafFile
{
    private readonly Dictionary<Guid, string> _names = [];
    private readonly Dictionary<Guid, string> _unknown = [];
    private readonly AafObject _root;
    private Dictionary<Guid, Guid>? _parents;

    private AafFile(Stream stream, string name)
    {
        Name = name;
        Container = CompoundFile.Open(stream, name);
        _root = new AafObject(this, Container.Root);
        var header = _root.Object(AafPid.RootHeader) ?? throw new BadInputException(AafCodes.NoHeader, name, string.Empty, "It is a compound file without an AAF header.", "Check what it is.");
        var content = header.Object(AafPid.HeaderContent) ?? throw new BadInputException(AafCodes.NoHeader, name, string.Empty, "Its header has no content.", "Export it again.");
        if (header.Object(AafPid.HeaderDictionary) is { } dictionary)
        {
            foreach (var pid in new[] { AafPid.DictionaryOperations, AafPid.DictionaryParameters, AafPid.DictionaryData, AafPid.DictionaryContainers, AafPid.DictionaryInterpolations })
            {
                ReadNames(dictionary, pid);
            }
        }

        Mobs = content.Objects(AafPid.Mobs).ToList();
        ById = [];
        foreach (var mob in Mobs)
        {
            if (mob.MobId(AafPid.MobId) is { } id && !ById.TryAdd(id, mob))
            {
                Findings.Add(ChainCodes.SameMob, id, $"Two mobs have the identifier {id}; the first is used.");
            }
        }

        Essence = [];
        foreach (var essence in content.Objects(AafPid.EssenceDataSet))
        {
            if (essence.MobId(AafPid.EssenceMobId) is { } id)
            {
                Essence.TryAdd(id, essence);
            }
        }
    }

    public string Name { get; }

    public CompoundFile Container { get; }

    public IReadOnlyList<AafObject> Mobs { get; }

    public Dictionary<string, AafObject> ById { get; }

    /// <summary>Embedded essence by its file source mob.</summary>
    public Dictionary<string, AafObject> Essence { get; }

    /// <summary>What was met and not used.</summary>
    public FindingList Findings { get; } = [];

    /// <param name="stream">Seekable; must outlive the file.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">Not an AAF file, or too damaged to open.</exception>
    public static AafFile Open(Stream stream, string name) => new(stream, name);

    /// <summary>A definition's name in the file's dictionary, or its identifier.</summary>
    public string NameOf(Guid definition) => _names.GetValueOrDefault(definition) ?? definition.ToString();

    /// <summary>The class of an identifier; one that the model does not know is its nearest ancestor in the file's meta dictionary.</summary>
    public string ClassOf(Guid id)
    {
        if (AafModel.ClassOf(id) is { } known)
        {
            return known;
        }

        if (_unknown.TryGetValue(id, out var seen))
        {
            return seen;
        }

        var parents = _parents ??= ReadParents();
        var at = id;
        for (var steps = 0; steps < 100 && parents.TryGetValue(at, out var parent) && parent != at; steps++)
        {
            at = parent;
            if (AafModel.ClassOf(at) is { } ancestor)
            {
                return _unknown[id] = ancestor;
            }
        }

        return _unknown[id] = "InterchangeObject";
    }

    /// <summary>The properties that the file's meta dictionary adds to a class and its descendants: where they lie, what they are called, and whether they hold a text.</summary>
    public IEnumerable<(ushort Pid, string Name, bool IsText)> OwnProperties(string type)
    {
        var text = AafModel.Type("String").Id;
        foreach (var property in (_root.Object(AafPid.RootMetaDictionary)?.Objects(AafPid.ClassDefinitions) ?? [])
            .Where(c => c.Id(AafPid.MetaIdentification) is { } id && AafModel.Is(ClassOf(id), type))
            .SelectMany(c => c.Objects(AafPid.ClassProperties)))
        {
            if (property.Whole(AafPid.PropertyLocalId) is { } pid && property.Text(AafPid.MetaName) is { } name)
            {
                yield return ((ushort)pid, name, property.Id(AafPid.PropertyType) == text);
            }
        }
    }

    private void ReadNames(AafObject dictionary, ushort pid)
    {
        foreach (var definition in dictionary.Objects(pid))
        {
            if (definition.Id(AafPid.DefinitionId) is { } id && definition.Text(AafPid.DefinitionName) is { } name)
            {
                _names[id] = name;
            }
        }
    }

    private Dictionary<Guid, Guid> ReadParents()
    {
        var parents = new Dictionary<Guid, Guid>();
        foreach (var definition in _root.Object(AafPid.RootMetaDictionary)?.Objects(AafPid.ClassDefinitions) ?? [])
        {
            if (definition.Id(AafPid.MetaIdentification) is { } id && definition.Weak(AafPid.ParentClass) is { } parent)
            {
                parents[id] = parent;
            }
        }

        return parents;
    }
}
