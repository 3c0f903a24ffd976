using System.Text.Json;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>A preparation as JSON: kept with each revision and inside every manifest, so that a package says how it was meant.</summary>
public static class PreparationDocument
{
    private static readonly IReadOnlyDictionary<string, Treatment> s_treatments = new Dictionary<string, Treatment>
    {
        ["print dry"] = Treatment.PrintDry,
        ["notes"] = Treatment.Notes,
        ["hold back"] = Treatment.HoldBack,
    };

    private static readonly IReadOnlyDictionary<string, DeliveredChannels> s_channels = new Dictionary<string, DeliveredChannels>
    {
        ["as track"] = DeliveredChannels.AsTrack,
        ["mono"] = DeliveredChannels.Mono,
        ["stereo"] = DeliveredChannels.Stereo,
    };

    private static readonly IReadOnlyDictionary<string, RangeStart> s_starts = new Dictionary<string, RangeStart>
    {
        ["session start"] = RangeStart.SessionStart,
        ["bar 1"] = RangeStart.Bar1,
        ["chosen"] = RangeStart.Chosen,
    };

    private static readonly IReadOnlyDictionary<string, SoundContainer> s_containers = new Dictionary<string, SoundContainer>
    {
        ["wav"] = SoundContainer.Wav,
        ["flac"] = SoundContainer.Flac,
    };

    public static byte[] Write(Preparation preparation)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            Write(json, preparation);
        }

        return output.ToArray();
    }

    public static void Write(Utf8JsonWriter json, Preparation preparation)
    {
        json.WriteStartObject();
        json.WriteString("namePattern", preparation.NamePattern);
        json.WriteString("from", DocumentWords.Of(s_starts, preparation.From));
        json.WriteNumber("chosenStart", preparation.ChosenStart);
        json.WriteNumber("tail", preparation.Tail);
        json.WriteString("encoding", DocumentWords.Of(DocumentWords.Encodings, preparation.Encoding));
        json.WriteString("container", DocumentWords.Of(s_containers, preparation.Container));
        json.WriteStartArray("tracks");
        foreach (var choice in preparation.Tracks)
        {
            json.WriteStartObject();
            json.WriteString("track", choice.TrackId);
            json.WriteString("treatment", DocumentWords.Of(s_treatments, choice.Treatment));
            json.WriteString("channels", DocumentWords.Of(s_channels, choice.Channels));
            if (choice.Name is not null)
            {
                json.WriteString("name", choice.Name);
            }

            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    /// <exception cref="Core.Errors.BadInputException">Not whole JSON, or against the form; names the path.</exception>
    public static Preparation Read(ReadOnlyMemory<byte> bytes, string file)
    {
        try
        {
            using var document = JsonDocument.Parse(bytes);
            return Read(new DocumentNode(document.RootElement, "$", file));
        }
        catch (JsonException problem)
        {
            throw new Core.Errors.BadInputException(file, $"line {problem.LineNumber + 1}", "This is not whole JSON.", "Write it again.");
        }
    }

    public static Preparation Read(DocumentNode node)
    {
        node.OnlyHas("namePattern", "from", "chosenStart", "tail", "encoding", "container", "tracks");
        var encoding = node["encoding"].OneOf(DocumentWords.Encodings);
        if (encoding is not (SampleEncoding.Integer16 or SampleEncoding.Integer24 or SampleEncoding.Float32))
        {
            throw node["encoding"].Error("Files are delivered as integer 16, integer 24 or float 32.");
        }

        return new Preparation
        {
            NamePattern = node["namePattern"].Text(),
            From = node["from"].OneOf(s_starts),
            ChosenStart = node["chosenStart"].Whole(),
            Tail = node["tail"].Whole(0),
            Encoding = encoding,
            Container = node["container"].OneOf(s_containers),
            Tracks = node.List("tracks", t =>
            {
                t.OnlyHas("track", "treatment", "channels", "name");
                return new TrackChoice(
                    t["track"].Text(), t["treatment"].OneOf(s_treatments), t["channels"].OneOf(s_channels),
                    t.Optional<string?>("name", null, n => n.Text()));
            }),
        };
    }
}
