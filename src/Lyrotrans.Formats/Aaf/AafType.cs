using System.Text.Json;

namespace Lyrotrans.Formats.Aaf;

/// <summary>A type of the published object model, with what its kind needs to be described.</summary>
internal sealed record AafType(string Name, Guid Id, string Kind)
{
    /// <summary>The type of its elements, or the one it renames, or the class it refers to.</summary>
    public string Of { get; private init; } = string.Empty;

    public int Size { get; private init; }

    public bool IsSigned { get; private init; }

    /// <summary>Names with a number or an identifier, of an enumeration.</summary>
    public IReadOnlyList<(string Name, string Value)> Values { get; private init; } = [];

    public IReadOnlyList<(string Name, string Type)> Members { get; private init; } = [];

    /// <summary>Property identifiers from the root to the set that a weak reference points into.</summary>
    public IReadOnlyList<Guid> TargetPath { get; private init; } = [];

    public static AafType Read(string name, JsonElement json) => new(name, json.GetProperty("id").GetGuid(), json.GetProperty("kind").GetString()!)
    {
        Of = Text(json, "element") ?? Text(json, "of") ?? Text(json, "target") ?? string.Empty,
        Size = json.TryGetProperty("size", out var size) ? size.GetInt32() : json.TryGetProperty("count", out var count) ? count.GetInt32() : 0,
        IsSigned = json.TryGetProperty("signed", out var signed) && signed.GetBoolean(),
        Values = json.TryGetProperty("values", out var values) ? [.. values.EnumerateObject().Select(v => (v.Value.GetString()!, v.Name))] : [],
        Members = json.TryGetProperty("members", out var members) ? [.. members.EnumerateArray().Select(m => (m[0].GetString()!, m[1].GetString()!))] : [],
        TargetPath = json.TryGetProperty("target_path_ids", out var path) ? [.. path.EnumerateArray().Select(p => p.GetGuid())] : [],
    };

    private static string? Text(JsonElement json, string key) => json.TryGetProperty(key, out var value) ? value.GetString() : null;
}
