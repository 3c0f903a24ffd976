using System.CommandLine;
using Lyrotrans.Core.Naming;
using Lyrotrans.Formats.Registry;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Workflow.Inspect;

namespace Lyrotrans.Cli;

/// <summary><c>lyro inspect FILE [--json]</c>: what is in a file.</summary>
internal static class InspectCommand
{
    private static readonly JsonSerializerOptions s_json = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static Command Make()
    {
        var file = new Argument<string>("FILE") { Description = $"An {SessionFormats.Words("or")} file, a MIDI file, an open session document, a marker list, a sound file, a package or a zip." };
        var json = new Option<bool>("--json") { Description = "Everything, as JSON." };
        var command = new Command("inspect", "Says what is in a file.") { file, json };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            _ =>
            {
                var contents = Inspection.Of(parsed.GetRequiredValue(file));
                return () => Print(contents, parsed.GetValue(json));
            },
            stop));
        return command;
    }

    private static int Print(JsonObject contents, bool asJson)
    {
        if (asJson)
        {
            Console.WriteLine(Escaped(contents.ToJsonString(s_json)));
        }
        else
        {
            Print(contents);
        }

        return ExitCode.Good;
    }

    private static void Print(JsonObject contents)
    {
        foreach (var (key, value) in contents)
        {
            switch (value)
            {
                case JsonArray list when key == "findings":
                    foreach (var finding in list)
                    {
                        Console.WriteLine($"  ! {finding!["text"]} ({finding["code"]})");
                    }

                    break;
                case JsonArray list when key == "tracks":
                    foreach (var track in list)
                    {
                        Console.WriteLine($"  track {track!["name"]}: {Size(track["clips"])} clips, {Size(track["notes"])} notes");
                    }

                    break;
                case JsonArray or JsonObject:
                    Console.WriteLine($"{key}: {Size(value)}");
                    break;
                default:
                    Console.WriteLine($"{key}: {value}");
                    break;
            }
        }
    }

    // What programs read must be what is in the file; hidden marks stand in strings only, where they can be escaped.
    private static string Escaped(string json) =>
        string.Concat(json.EnumerateRunes().Select(r => HiddenMarks.Is(r) ? string.Concat(r.ToString().Select(c => $"\\u{(int)c:X4}")) : r.ToString()));

    private static string Size(JsonNode? node) => node switch
    {
        JsonArray list => list.Count.ToString(System.Globalization.CultureInfo.InvariantCulture),
        JsonObject map => map.Count.ToString(System.Globalization.CultureInfo.InvariantCulture),
        null => "0",
        _ => node.ToString(),
    };
}
