using Lyrotrans.Formats.Binary;
using System.Text.Json;

namespace Lyrotrans.Formats.Otio;

/// <summary>Reads objects of an OTIO document, whatever is missing or of another kind.</summary>
/// <remarks>docs/formats/otio.md, section 1.</remarks>
internal static class OtioNode
{
    /// <summary>Where what is ours lies in the metadata of an object.</summary>
    public const string OwnKey = "lyrotrans";

    /// <summary>The kind of an object, without its version.</summary>
    public static string Kind(JsonElement element) => Text(element, "OTIO_SCHEMA") is { } schema ? schema[..(schema.IndexOf('.', StringComparison.Ordinal) is > 0 and var dot ? dot : schema.Length)] : string.Empty;

    public static JsonElement? Get(JsonElement element, string property) =>
        element.ValueKind == JsonValueKind.Object && element.TryGetProperty(property, out var value) && value.ValueKind != JsonValueKind.Null ? value : null;

    public static string? Text(JsonElement element, string property) => Get(element, property) is { ValueKind: JsonValueKind.String } value ? JsonInput.TextOf(value) : null;

    public static double? Number(JsonElement element, string property) =>
        Get(element, property) is { ValueKind: JsonValueKind.Number } value && value.TryGetDouble(out var number) && double.IsFinite(number) ? number : null;

    public static bool Truth(JsonElement element, string property, bool usual) => Get(element, property) is { ValueKind: JsonValueKind.True or JsonValueKind.False } value ? value.GetBoolean() : usual;

    public static IEnumerable<JsonElement> List(JsonElement element, string property) =>
        Get(element, property) is { ValueKind: JsonValueKind.Array } list ? list.EnumerateArray().Where(e => e.ValueKind == JsonValueKind.Object) : [];

    /// <summary>What we wrote about an object.</summary>
    public static JsonElement? Own(JsonElement element) => Get(element, "metadata") is { } metadata ? Get(metadata, OwnKey) : null;

    public static string? OwnText(JsonElement element, string property) => Own(element) is { } own ? Text(own, property) : null;
}
