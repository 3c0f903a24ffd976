using System.Globalization;
using System.Text.Json;

namespace Lyrotrans.Formats.Aaf;

/// <summary>A class of the published object model.</summary>
internal sealed record AafClass(string Name, Guid Id, string? Parent, bool IsConcrete, IReadOnlyList<AafProperty> Properties)
{
    public static AafClass Read(string name, JsonElement json, Dictionary<ushort, string> names)
    {
        var properties = new List<AafProperty>();
        foreach (var property in json.GetProperty("properties").EnumerateArray())
        {
            var pid = property.GetProperty("pid").GetString() is { } text ? ushort.Parse(text.AsSpan(2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) : (ushort?)null;
            properties.Add(new AafProperty(
                property.GetProperty("name").GetString()!, property.GetProperty("id").GetGuid(), pid, property.GetProperty("type").GetString()!,
                property.GetProperty("optional").GetBoolean(), property.GetProperty("unique").GetBoolean()));
            if (pid is { } known)
            {
                names.TryAdd(known, properties[^1].Name);
            }
        }

        return new AafClass(name, json.GetProperty("id").GetGuid(), json.GetProperty("parent").GetString(), json.GetProperty("concrete").GetBoolean(), properties);
    }
}
