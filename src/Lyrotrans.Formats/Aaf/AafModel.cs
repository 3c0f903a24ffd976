using System.Reflection;
using System.Text.Json;

namespace Lyrotrans.Formats.Aaf;

/// <summary>The published object model: classes with their parents, and definitions, by identifier.</summary>
internal static class AafModel
{
    private static readonly Dictionary<Guid, string> s_classes = [];
    private static readonly Dictionary<string, string?> s_parents = [];
    private static readonly Dictionary<string, Guid> s_definitions = [];

    static AafModel()
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("aaf-model.json")!;
        using var model = JsonDocument.Parse(stream);
        foreach (var type in model.RootElement.GetProperty("classes").EnumerateObject())
        {
            s_classes[type.Value.GetProperty("id").GetGuid()] = type.Name;
            s_parents[type.Name] = type.Value.GetProperty("parent").GetString();
        }

        foreach (var definition in model.RootElement.GetProperty("definitions").EnumerateObject().SelectMany(g => g.Value.EnumerateObject()))
        {
            s_definitions[definition.Name] = definition.Value.GetGuid();
        }
    }

    /// <summary>The class of an identifier, or null where the model does not know it.</summary>
    public static string? ClassOf(Guid id) => s_classes.GetValueOrDefault(id);

    /// <summary>Whether a class is another or descends from it.</summary>
    public static bool Is(string? type, string ancestor)
    {
        for (var at = type; at is not null; at = s_parents.GetValueOrDefault(at))
        {
            if (at == ancestor)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>A definition's identifier by its name in the model, such as <c>OperationDef_MonoAudioGain</c>.</summary>
    public static Guid Definition(string name) => s_definitions[name];
}
