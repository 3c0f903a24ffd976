using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Formats.Preparations;

/// <summary>The JSON Schema (2020-12) of <see cref="PreparationDocument"/>, made from the options that it is written from.</summary>
public static class PreparationSchema
{
    private const int LargestMeterNumber = 255;

    private static readonly JsonSerializerOptions s_indented = new() { WriteIndented = true, NewLine = "\n", Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>The schema as indented JSON with a line's end after it.</summary>
    public static string Text() => Document().ToJsonString(s_indented) + "\n";

    /// <summary>The schema of <see cref="ReceiverSheet"/>.</summary>
    public static string OfSheet()
    {
        var choices = Document();
        var properties = OptionJson.Schema(PreparationOptions.Sheet);
        properties["audio"] = new JsonObject { ["description"] = "What becomes of every audio track that goes.", ["enum"] = new JsonArray([.. Choices.Treatments.Select(t => JsonValue.Create(t.Id))]) };
        foreach (var (name, schema) in choices["properties"]!.AsObject().Where(p => p.Key is not ("version" or "accepted" or "answers" or PreparationDocument.ReplyPart or "sheet" or "tracks" or "chosenStart" or "chosenEnd" or "nameDate" or "nameVersion")).ToList())
        {
            // All may be left out, in parts too.
            var open = schema!.DeepClone().AsObject();
            open.Remove("required");
            properties[name] = open;
        }

        properties["sheetVersion"] = new JsonObject { ["const"] = ReceiverSheet.Version };
        var sheet = Object("A receiver sheet: what a receiving room takes. What is not said stays as it is.", properties, ["sheetVersion", "name"]);
        sheet.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        return sheet.ToJsonString(s_indented) + "\n";
    }

    private static JsonObject Document()
    {
        var schema = Part("A preparation: all that was decided about a session before it is built.", PreparationOptions.Files, new()
        {
            ["mix"] = Part("What goes along besides the tracks.", PreparationOptions.Mix),
            [PreparationDocument.KindsPart] = Kinds(),
            [PreparationDocument.PicturePart] = Part("How the reference picture goes.", PreparationOptions.Picture),
            ["markers"] = Part("In which files markers go.", PreparationOptions.Markers),
            ["midi"] = Part("How notes and the tempo map go out as MIDI.", PreparationOptions.Midi),
            ["click"] = Part("Whether and how a click goes.", PreparationOptions.Click, new() { ["accents"] = List(Accents(), "Typed-in accents of meters; a meter that is not here has its usual ones.") }),
            ["clips"] = Clips(),
            ["accepted"] = List(new JsonObject { ["type"] = "string" }, "Names of what may go without its sound, such as a missing medium or an effect that cannot sound here."),
            ["answers"] = List(Answer(), "What was answered to flags, one for each kind at most."),
            [PreparationDocument.ReplyPart] = new JsonObject { ["description"] = "For a reply, the SHA-256 of the manifest of the package that it replies to.", ["type"] = "string", ["pattern"] = "^[0-9a-f]{64}$" },
            ["sheet"] = Part("What the receiver's sheet asks for beside choices.", PreparationOptions.Sheet),
            ["tracks"] = List(Track(), "The rows of the track sheet, in the order of delivery."),
        });
        schema["properties"]!["version"] = new JsonObject { ["enum"] = new JsonArray([.. Enumerable.Range(PreparationDocument.OldestWritten, PreparationDocument.Version - PreparationDocument.OldestWritten + 1).Select(v => (JsonNode)v)]) };
        schema["required"]!.AsArray().Insert(0, "version");
        schema.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        return schema;
    }

    private static JsonObject Kinds() => Object(
        "What single kinds of files have otherwise than all files.", new(Choices.FileKinds.Select(k => KeyValuePair.Create(k.Id, (JsonNode?)Part($"How {k.Words} differ from all files.", PreparationOptions.Kind)))), []);

    private static JsonObject Clips()
    {
        var options = SessionFormats.OfClips.SelectMany(f => f.Clips.Options.Select(o => KeyValuePair.Create(o.Id, (JsonNode?)Option(f.Id, o))));
        return Part("How tracks that are kept as clips go into a file of clips.", PreparationOptions.Clips, new()
        {
            ["file"] = new JsonObject { ["description"] = "The format of the file of clips.", ["enum"] = new JsonArray([.. SessionFormats.OfClips.Select(f => JsonValue.Create(f.Id))]) },
            ["options"] = new JsonObject { ["description"] = "What single formats let choose.", ["type"] = "object", ["additionalProperties"] = false, ["properties"] = new JsonObject(options) },
        });
    }

    private static JsonObject Option(string format, FormatOption option) =>
        new() { ["description"] = $"{format}: {option.Name}.", ["enum"] = new JsonArray([.. option.Values.Select(v => JsonValue.Create(v.Id))]) };

    private static JsonObject Track() =>
        Part("A row of the track sheet.", PreparationOptions.Track, new()
        {
            ["track"] = new JsonObject { ["description"] = "The identifier of the session's track.", ["type"] = "string" },
            [PreparationDocument.BeneathPart] = List(Part("A further form of the track.", PreparationOptions.Beneath), "Further forms in which the track goes, muted beneath this one."),
            [PreparationDocument.WithoutPart] = List(new JsonObject { ["type"] = "string" }, "Effects that its prints do not go through; the second of one name is called by it and 2."),
            [PreparationDocument.OversampledPart] = List(
                Object("An effect.", new JsonObject { ["effect"] = new JsonObject { ["type"] = "string" }, ["times"] = new JsonObject { ["enum"] = new JsonArray([.. EffectOversampling.Factors.Select(f => JsonValue.Create(f))]) } }, ["effect", "times"]),
                "How many times single effects are oversampled, where it is other than of all."),
        }, "track");

    private static JsonObject Accents()
    {
        var number = () => new JsonObject { ["type"] = "integer", ["minimum"] = 1, ["maximum"] = LargestMeterNumber };
        var properties = new JsonObject
        {
            ["beats"] = number(),
            ["beatUnit"] = number(),
            ["pattern"] = new JsonObject { ["description"] = "Groups of beats that add up to beats.", ["type"] = "string", ["pattern"] = "^[0-9]+(\\+[0-9]+)*$" },
        };
        return Object("The accents of a meter.", properties, ["beats", "beatUnit", "pattern"]);
    }

    private static JsonObject Answer()
    {
        var text = (string about) => new JsonObject { ["description"] = about, ["type"] = "string" };
        var properties = new JsonObject
        {
            ["flag"] = text("The flag's code, such as hidden-track."),
            ["words"] = text("What the flag said then."),
            ["accepted"] = new JsonObject { ["description"] = "Whether it may stay as it is.", ["type"] = "boolean" },
            ["note"] = text("A sentence for the receiver; may be empty."),
            ["objects"] = List(text("A sum of what the flag was about."), "What it was answered on; of anything else the flag is open again."),
        };
        return Object("What was answered to a kind of flag.", properties, ["flag", "words", "accepted", "note", "objects"]);
    }

    private static JsonObject List(JsonObject items, string about) => new() { ["description"] = about, ["type"] = "array", ["items"] = items };

    private static JsonObject Part<T>(string about, OptionTable<T> options, JsonObject? more = null, params string[] required)
    {
        var properties = OptionJson.Schema(options);
        foreach (var (name, schema) in more?.ToList() ?? [])
        {
            more!.Remove(name);
            properties[name] = schema;
        }

        return Object(about, properties, [.. OptionJson.Required(options), .. required]);
    }

    private static JsonObject Object(string about, JsonObject properties, IEnumerable<string> required) => new()
    {
        ["description"] = about,
        ["type"] = "object",
        ["additionalProperties"] = false,
        ["properties"] = properties,
        ["required"] = new JsonArray([.. required.Select(r => JsonValue.Create(r))]),
    };
}
