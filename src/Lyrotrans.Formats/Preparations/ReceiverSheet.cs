using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Formats.Preparations;

/// <summary>
/// What a receiving room takes, as JSON: any of a preparation's choices, part by part and field by field, <c>audio</c>, the treatment of every audio track that goes, and what the room
/// asks for beside these (<see cref="SheetTerms"/>). What is not said stays as it is. Without <c>sheetVersion</c> it is choices alone.
/// </summary>
public sealed class ReceiverSheet
{
    /// <summary>The newest.</summary>
    public const int Version = 1;

    private const string VersionProperty = "sheetVersion";
    private const string Audio = "audio";
    private static readonly string[] s_parts = ["mix", PreparationDocument.KindsPart, "midi", PreparationDocument.PicturePart, "markers", "click", "clips"];
    private static readonly JsonSerializerOptions s_indented = new() { WriteIndented = true, NewLine = "\n", Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    // What only one session has is in no sheet that has a name.
    private static readonly string[] s_sessions = ["chosenStart", "chosenEnd", "nameDate", "nameVersion"];
    private readonly JsonObject _choices;
    private readonly Treatment? _audio;
    private readonly string _file;

    private ReceiverSheet(JsonObject choices, Treatment? audio, SheetTerms? terms, string file) => (_choices, _audio, Terms, _file) = (choices, audio, terms, file);

    /// <summary>What the room asks for beside choices; null where the document is choices alone.</summary>
    public SheetTerms? Terms { get; }

    /// <summary>Whether the room says that it wants no click as a sound file.</summary>
    public bool RefusesClick => _choices["click"]?["print"] is JsonValue print && print.TryGetValue(out bool wanted) && !wanted;

    /// <param name="bytes">The JSON.</param>
    /// <param name="file">For errors.</param>
    /// <exception cref="Core.Errors.BadInputException">Not whole JSON, of a newer version, against the form, or with values that cannot be; names the path.</exception>
    public static ReceiverSheet Read(ReadOnlyMemory<byte> bytes, string file)
    {
        using var document = JsonInput.Parse(bytes, file);
        var node = new DocumentNode(document.RootElement, DocumentPath.Root, file);
        SheetTerms? terms = null;
        string[] files = [.. OptionJson.Names(PreparationOptions.Files)];
        if (node.Has(VersionProperty))
        {
            DocumentVersion.Read(node, VersionProperty, Version);
            node.OnlyHas([VersionProperty, .. OptionJson.Names(PreparationOptions.Sheet), .. files.Except(s_sessions), .. s_parts, Audio]);
            terms = OptionJson.Read(node, PreparationOptions.Sheet, new SheetTerms(string.Empty));
            if (terms.FormatIds.FirstOrDefault(f => !SessionFormats.OfClips.Any(k => k.Id == f)) is { } unknown)
            {
                throw node["formats"].Error(DocumentCodes.Unknown, $"There is no format of clips \"{unknown}\"; there are {SessionFormats.Words("and")}.");
            }

            if (string.IsNullOrWhiteSpace(terms.Name))
            {
                throw node["name"].Error(DocumentCodes.BadValue, "A sheet needs a name.");
            }
        }
        else
        {
            node.OnlyHas([.. files, .. s_parts, Audio]);
        }

        var audio = node.Optional<Treatment?>(Audio, null, n => n.OneOf(Choices.Treatments.ById));
        var choices = new JsonObject(document.RootElement.EnumerateObject().Where(p => files.Contains(p.Name) || s_parts.Contains(p.Name)).Select(p => KeyValuePair.Create(p.Name, JsonNode.Parse(p.Value.GetRawText()))));
        var sheet = new ReceiverSheet(choices, audio, terms, file);
        var any = new Session { Name = "any" };
        var tried = sheet.Apply(Preparation.Default(any, SessionFormats.Usual), any);
        var unheld = Choices.FileKinds.Select(k => FileForm.Of(tried, k.Value, any.Rate)).FirstOrDefault(f => !Preparation.CanHold(f.Container, f.Encoding));
        return unheld is null ? sheet : throw node.Error(DocumentCodes.BadValue, $"{Choices.Containers[unheld.Container].Words} does not hold {Choices.Encodings[unheld.Encoding].Words}.");
    }

    /// <summary>The sheet that asks for what a preparation has.</summary>
    /// <param name="terms">What it asks for beside choices.</param>
    /// <param name="preparation">Whose choices it takes; those of single tracks are not in it.</param>
    /// <param name="audio">What becomes of audio tracks; none leaves that open.</param>
    public static string Of(SheetTerms terms, Preparation preparation, Treatment? audio)
    {
        var whole = JsonNode.Parse(PreparationDocument.Write(preparation))!.AsObject();
        var sheet = new JsonObject { [VersionProperty] = Version };
        foreach (var (name, value) in JsonNode.Parse(Part(terms))!.AsObject())
        {
            sheet[name] = value!.DeepClone();
        }

        if (audio is { } treatment)
        {
            sheet[Audio] = Choices.Treatments[treatment].Id;
        }

        var from = preparation.From == RangeStart.Chosen ? ["from"] : Array.Empty<string>();
        foreach (var (name, value) in whole.Where(p => (OptionJson.Names(PreparationOptions.Files).Contains(p.Key) || s_parts.Contains(p.Key)) && !s_sessions.Contains(p.Key) && !from.Contains(p.Key)))
        {
            sheet[name] = value!.DeepClone();
        }

        // A name that was typed in is one session's.
        (sheet["click"] as JsonObject)?.Remove("fileName");
        return sheet.ToJsonString(s_indented) + "\n";
    }

    /// <summary>The preparation as the sheet asks for it. Rows of the track sheet keep all but the treatment of audio.</summary>
    /// <param name="preparation">What is changed by it.</param>
    /// <param name="session">Whose tracks the treatment is for.</param>
    /// <exception cref="Core.Errors.BadInputException">A choice is against the form; names the path.</exception>
    public Preparation Apply(Preparation preparation, Session session)
    {
        var whole = JsonNode.Parse(PreparationDocument.Write(preparation))!.AsObject();

        // Documents of before say options of single formats among the choices of all, and what is there already would be taken over them.
        if (_choices["clips"] is JsonObject clips && SessionFormats.OfClips.SelectMany(f => f.Clips.Options).Any(o => o.FormerId is { } former && clips.ContainsKey(former)))
        {
            whole["clips"]!.AsObject().Remove("options");
        }

        // Of several formats the one that the room likes best, unless the sheet says one itself.
        if (Terms is { } asked && asked.FormatIds is [var best, ..] && _choices["clips"]?["file"] is null)
        {
            whole["clips"]!["file"] = best;
        }

        // The rate that the room asks for is the one that files go at, unless the sheet says one itself.
        if (Terms?.Rate is { } rate && _choices["deliveredRate"] is null)
        {
            whole["deliveredRate"] = rate;
        }

        // A handle without its unit is in milliseconds, whatever was counted before.
        if (_choices["clips"] is JsonObject { } said && said.ContainsKey("handle") && !said.ContainsKey("handleUnit"))
        {
            whole["clips"]!["handleUnit"] = Choices.HandleUnits[HandleUnit.Milliseconds].Id;
        }

        Merge(whole, _choices);
        var changed = PreparationDocument.Read(Encoding.UTF8.GetBytes(whole.ToJsonString()), _file) with { Sheet = Terms ?? preparation.Sheet };
        return _audio is { } treatment ? changed with { Tracks = PreparationTreatment.OfAudio(changed, session, treatment) } : changed;
    }

    private static string Part(SheetTerms terms)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output))
        {
            json.WriteStartObject();
            OptionJson.Write(json, PreparationOptions.Sheet, terms);
            json.WriteEndObject();
        }

        return Encoding.UTF8.GetString(output.ToArray());
    }

    private static void Merge(JsonObject into, JsonObject choices)
    {
        foreach (var (name, value) in choices)
        {
            if (value is JsonObject part && into[name] is JsonObject before)
            {
                Merge(before, part);
            }
            else
            {
                into[name] = value?.DeepClone();
            }
        }
    }
}
