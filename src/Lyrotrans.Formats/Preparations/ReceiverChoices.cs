using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.OpenSession;
using System.Text.Json;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Preparations;

/// <summary>
/// What a receiver takes, as JSON: any of a preparation's fields but its tracks, and <c>audio</c>, the treatment of every audio track that goes. What is
/// not said stays as it is.
/// </summary>
public static class ReceiverChoices
{
    private static readonly string[] s_fields = ["namePattern", "from", "chosenStart", "tail", "encoding", "container", "midi", "click", "clips"];

    /// <param name="bytes">The JSON.</param>
    /// <param name="file">For errors.</param>
    /// <param name="preparation">What is changed by it.</param>
    /// <param name="session">Whose tracks the treatment is for.</param>
    /// <exception cref="Core.Errors.BadInputException">Not whole JSON, or against the form; names the path.</exception>
    public static Preparation Apply(ReadOnlyMemory<byte> bytes, string file, Preparation preparation, Session session)
    {
        using var document = JsonInput.Parse(bytes, file);
        var node = new DocumentNode(document.RootElement, DocumentPath.Root, file);
        node.OnlyHas([.. s_fields, "audio"]);
        var changed = PreparationDocument.Read(Merged(document.RootElement, preparation), file);
        return node.Optional<Treatment?>("audio", null, n => n.OneOf(Choices.Treatments.ById)) is { } treatment
            ? changed with { Tracks = PreparationTreatment.OfAudio(changed, session, treatment) }
            : changed;
    }

    /// <summary>The choices of a preparation that say how clips go, to be kept with them.</summary>
    public static string OfClips(Preparation preparation)
    {
        using var whole = JsonDocument.Parse(PreparationDocument.Write(preparation));
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output))
        {
            json.WriteStartObject();
            foreach (var property in whole.RootElement.EnumerateObject().Where(p => p.Name is "namePattern" or "encoding" or "clips"))
            {
                property.WriteTo(json);
            }

            json.WriteEndObject();
        }

        return System.Text.Encoding.UTF8.GetString(output.ToArray());
    }

    private static byte[] Merged(JsonElement choices, Preparation preparation)
    {
        using var whole = JsonDocument.Parse(PreparationDocument.Write(preparation));
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output))
        {
            json.WriteStartObject();
            foreach (var property in whole.RootElement.EnumerateObject())
            {
                if (choices.TryGetProperty(property.Name, out var said))
                {
                    json.WritePropertyName(property.Name);
                    said.WriteTo(json);
                }
                else
                {
                    property.WriteTo(json);
                }
            }

            json.WriteEndObject();
        }

        return output.ToArray();
    }
}
