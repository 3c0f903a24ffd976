using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Lyrotrans.Mutate;

/// <summary>What can be changed in a JSON document: of each place of another kind in it the first one, its value, whether it is there, and the order of its items.</summary>
internal static class JsonMutations
{
    private static readonly JsonSerializerOptions s_options = new() { WriteIndented = true, NewLine = "\n", Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static IEnumerable<Mutation> Of(string path, byte[] json)
    {
        var seen = new HashSet<string>();
        foreach (var place in Places(JsonNode.Parse(json)!, []))
        {
            var kind = string.Join('.', place.Select(p => p is int ? "[]" : p.ToString()));
            if (seen.Add(kind))
            {
                foreach (var (how, change) in Changes)
                {
                    if (Changed(json, place, change) is { } changed)
                    {
                        yield return Mutation.OfFile(path, $"{kind} {how}", _ => changed);
                    }
                }
            }
        }
    }

    private static readonly (string How, Func<JsonNode?, JsonNode, object, bool> Do)[] Changes =
    [
        ("another value", (node, parent, key) => Other(node) is { } other && Put(parent, key, other)),
        ("left out", (_, parent, key) => parent is JsonObject o ? o.Remove((string)key) : Remove((JsonArray)parent, (int)key)),
        ("twice", (node, parent, key) => parent is JsonArray a && Insert(a, (int)key, node)),
        ("turned over", (node, _, _) => node is JsonArray { Count: > 1 } a && Turn(a)),
    ];

    private static IEnumerable<object[]> Places(JsonNode? node, object[] here)
    {
        if (here.Length > 0)
        {
            yield return here;
        }

        var below = node switch
        {
            JsonObject o => o.SelectMany(p => Places(p.Value, [.. here, p.Key])),
            JsonArray a => a.SelectMany((n, i) => Places(n, [.. here, i])),
            _ => [],
        };
        foreach (var place in below)
        {
            yield return place;
        }
    }

    private static byte[]? Changed(byte[] json, object[] place, Func<JsonNode?, JsonNode, object, bool> change)
    {
        var root = JsonNode.Parse(json)!;
        var parent = root;
        foreach (var step in place[..^1])
        {
            parent = step is int i ? parent[i]! : parent[(string)step]!;
        }

        var before = root.ToJsonString();
        var node = place[^1] is int at ? parent[at] : parent[(string)place[^1]];
        return change(node, parent, place[^1]) && root.ToJsonString() != before ? Encoding.UTF8.GetBytes(root.ToJsonString(s_options)) : null;
    }

    private static JsonNode? Other(JsonNode? node) => node?.GetValueKind() switch
    {
        JsonValueKind.String => JsonValue.Create(Digit(node.ToString()) ?? node + "x"),
        JsonValueKind.Number when node.ToJsonString().Any(c => c is '.' or 'e' or 'E') => JsonValue.Create(Math.BitIncrement(node.GetValue<double>())),
        JsonValueKind.Number => JsonValue.Create(node.GetValue<long>() + 1),
        JsonValueKind.True => JsonValue.Create(false),
        JsonValueKind.False => JsonValue.Create(true),
        _ => null,
    };

    // A number in text stays one.
    private static string? Digit(string text) => text.Length > 0 && text.All(c => char.IsAsciiDigit(c) || c is '/' or ':') && char.IsAsciiDigit(text[0]) ? (text[0] == '1' ? '2' : '1') + text[1..] : null;

    private static bool Put(JsonNode parent, object key, JsonNode value)
    {
        if (key is int i)
        {
            parent[i] = value;
        }
        else
        {
            parent[(string)key] = value;
        }

        return true;
    }

    private static bool Remove(JsonArray items, int at)
    {
        items.RemoveAt(at);
        return true;
    }

    private static bool Insert(JsonArray items, int at, JsonNode? node)
    {
        items.Insert(at, node?.DeepClone());
        return true;
    }

    private static bool Turn(JsonArray items)
    {
        var turned = items.Select(n => n?.DeepClone()).Reverse().ToList();
        items.Clear();
        turned.ForEach(items.Add);
        return true;
    }
}
