using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Lyrotrans.Fuzz;

/// <summary>Changes a JSON document and leaves it JSON: values become others, members go, and parts of it come to lie inside others.</summary>
internal static class JsonMutation
{
    private const int MostBytes = 4 << 20;
    private static readonly JsonDocumentOptions s_noTwice = new() { AllowDuplicateProperties = false };
    private static readonly double[] s_telling = [0, -1, 1, 0.5, 1e-300, 1e300, 9007199254740992, -9007199254740992, 2147483648, 29.97002997, 1e9];

    /// <summary>The document; null where the bytes are none.</summary>
    public static JsonNode? Parse(byte[] bytes)
    {
        try
        {
            return bytes.AsSpan().TrimStart(" \r\n\t"u8) is [(byte)'{', ..] && JsonNode.Parse(bytes, documentOptions: s_noTwice) is JsonObject { Count: > 0 } root ? root : null;
        }
        catch (Exception problem) when (problem is JsonException or ArgumentException)
        {
            return null;
        }
    }

    public static byte[] Of(JsonNode root, byte[] other, Random random)
    {
        for (var count = 1 << random.Next(4); count > 0; count--)
        {
            var places = Places(root).ToList();
            var (owner, key) = places[random.Next(places.Count)];
            Set(owner, key, random.Next(7) switch
            {
                0 => null,
                1 => JsonValue.Create("x"),
                2 or 3 => JsonValue.Create(s_telling[random.Next(s_telling.Length)]),
                4 => Get(places[random.Next(places.Count)])?.DeepClone(),
                5 => Parse(other)?["tracks"]?.DeepClone(),
                _ => new JsonArray(Enumerable.Range(0, random.Next(1, 5)).Select(_ => Get((owner, key))?.DeepClone()).ToArray()),
            });
        }

        var bytes = Encoding.UTF8.GetBytes(root.ToJsonString());
        return bytes.Length < MostBytes ? bytes : bytes[..MostBytes];
    }

    private static IEnumerable<(JsonNode Owner, object Key)> Places(JsonNode node)
    {
        var waiting = new Stack<JsonNode>([node]);
        while (waiting.TryPop(out var at))
        {
            var keys = at switch { JsonObject members => members.Select(m => (object)m.Key).ToList(), JsonArray items => Enumerable.Range(0, items.Count).Select(i => (object)i).ToList(), _ => [] };
            foreach (var key in keys)
            {
                yield return (at, key);
                if (Get((at, key)) is { } inner)
                {
                    waiting.Push(inner);
                }
            }
        }
    }

    private static JsonNode? Get((JsonNode Owner, object Key) place) => place.Key is string name ? place.Owner[name] : place.Owner[(int)place.Key];

    private static void Set(JsonNode owner, object key, JsonNode? value)
    {
        if (key is string name)
        {
            owner[name] = value;
        }
        else
        {
            owner[(int)key] = value;
        }
    }
}
