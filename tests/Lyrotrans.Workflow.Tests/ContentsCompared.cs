using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Workflow.Inspect;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The contents of a fixture beside what is found in it, key by key.</summary>
internal static class ContentsCompared
{
    // What is left out: words about the file, and for media that is not there what only its bytes could say.
    private static readonly string[] s_words = ["file", "notes", "through"];

    public static IEnumerable<string> Differences(string path, string contents, bool missing = false, params string[] besides) =>
        Differences(JsonNode.Parse(File.ReadAllText(contents)), JsonNode.Parse(Inspection.Of(path).ToJsonString()), string.Empty, missing, [.. s_words, .. besides]);

    private static IEnumerable<string> Differences(JsonNode? expected, JsonNode? found, string path, bool missing, string[] leave)
    {
        switch (expected)
        {
            case JsonObject things:
                foreach (var (key, value) in things.Where(p => !leave.Contains(p.Key) && !(missing && p.Key is "sampleDataSha256" or "url")))
                {
                    foreach (var difference in Differences(value, found is JsonObject other ? other[key] : null, $"{path}/{key}", missing, leave))
                    {
                        yield return difference;
                    }
                }

                break;
            case JsonArray items when (found as JsonArray)?.Count is var count && (count ?? 0) != items.Count:
                yield return $"{path}: {items.Count} meant, {count} found";
                break;
            case JsonArray items:
                foreach (var difference in items.SelectMany((item, i) => Differences(item, found![i], $"{path}[{i}]", missing, leave)))
                {
                    yield return difference;
                }

                break;
            case JsonValue value when value.GetValueKind() == JsonValueKind.Number:
                // Gains are stated with four digits.
                if (found is null || Math.Abs((double)value - (double)found) > (path.EndsWith("Db", StringComparison.Ordinal) ? 1e-4 : 1e-6))
                {
                    yield return $"{path}: {expected.ToJsonString()} meant, {found?.ToJsonString()} found";
                }

                break;
            default:
                if (!JsonNode.DeepEquals(expected, found))
                {
                    yield return $"{path}: {expected?.ToJsonString()} meant, {found?.ToJsonString()} found";
                }

                break;
        }
    }
}
