using System.Reflection;
using System.Text.Json;

namespace Lyrotrans.Formats.Aaf;

/// <summary>The published object model: classes with their parents, and definitions, by identifier.</summary>
/// <remarks>docs/formats/aaf.md, section 1.</remarks>
internal static class AafModel
{
    private static readonly Dictionary<Guid, string> s_classes = [];
    private static readonly Dictionary<string, string?> s_parents = [];
    private static readonly Dictionary<string, HashSet<string>> s_ancestors = [];
    private static readonly Dictionary<string, Guid> s_definitions = [];
    private static readonly Dictionary<string, AafClass> s_described = [];
    private static readonly Dictionary<string, AafType> s_types = [];
    private static readonly Dictionary<ushort, string> s_propertyNames = [];

    static AafModel()
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("aaf-model.json")!;
        using var model = JsonDocument.Parse(stream);
        var root = model.RootElement.GetProperty("root");
        RootClass = root.GetProperty("storage_class_id").GetGuid();
        foreach (var property in root.GetProperty("properties").EnumerateArray())
        {
            s_propertyNames[Convert.ToUInt16(property.GetProperty("pid").GetString(), 16)] = property.GetProperty("name").GetString()!;
        }

        foreach (var type in model.RootElement.GetProperty("classes").EnumerateObject())
        {
            s_classes[type.Value.GetProperty("id").GetGuid()] = type.Name;
            s_parents[type.Name] = type.Value.GetProperty("parent").GetString();
            s_described[type.Name] = AafClass.Read(type.Name, type.Value, s_propertyNames);
        }

        foreach (var type in model.RootElement.GetProperty("types").EnumerateObject())
        {
            s_types[type.Name] = AafType.Read(type.Name, type.Value);
        }

        foreach (var type in s_parents.Keys)
        {
            var all = s_ancestors[type] = [];
            for (var at = type; at is not null && all.Add(at); at = s_parents.GetValueOrDefault(at))
            {
            }
        }

        foreach (var definition in model.RootElement.GetProperty("definitions").EnumerateObject().SelectMany(g => g.Value.EnumerateObject()))
        {
            s_definitions[definition.Name] = definition.Value.GetGuid();
        }
    }

    /// <summary>The class of the root storage.</summary>
    public static Guid RootClass { get; }

    /// <summary>The class of an identifier, or null where the model does not know it.</summary>
    public static string? ClassOf(Guid id) => s_classes.GetValueOrDefault(id);

    /// <summary>Whether a class is another or descends from it.</summary>
    public static bool Is(string type, string ancestor) => s_ancestors.TryGetValue(type, out var all) && all.Contains(ancestor);

    /// <summary>Every class of the model, in its order.</summary>
    public static IReadOnlyCollection<AafClass> Classes => s_described.Values;

    /// <summary>Every type of the model, in its order.</summary>
    public static IReadOnlyCollection<AafType> Types => s_types.Values;

    public static AafClass Class(string name) => s_described[name];

    public static AafType Type(string name) => s_types[name];

    /// <summary>The name of a property whose identifier the model fixes.</summary>
    public static string PropertyName(ushort pid) => s_propertyNames[pid];

    /// <summary>A definition's identifier by its name in the model, such as <c>OperationDef_MonoAudioGain</c>.</summary>
    public static Guid Definition(string name) => s_definitions[name];
}
