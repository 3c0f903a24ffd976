using System.Text.Json;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Formats.Preparations;

/// <summary>The receivers of a transfer as JSON: kept with each revision. A document that is a preparation, as all were before, is that of one receiver without a name.</summary>
public static class ReceiversDocument
{
    /// <summary>The newest.</summary>
    public const int Version = 1;

    private const string VersionProperty = "receiversVersion";

    /// <summary>As UTF-8 JSON; the same list gives the same bytes.</summary>
    public static byte[] Write(ReceiverList receivers)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            json.WriteStartObject();
            json.WriteNumber(VersionProperty, Version);
            json.WriteNumber("next", receivers.Next);
            json.WriteStartArray("receivers");
            foreach (var receiver in receivers.All)
            {
                Write(json, receiver);
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        return output.ToArray();
    }

    /// <exception cref="Core.Errors.BadInputException">Not whole JSON, or against the form; names the path.</exception>
    public static ReceiverList Read(ReadOnlyMemory<byte> bytes, string file)
    {
        using var document = JsonInput.Parse(bytes, file);
        var node = new DocumentNode(document.RootElement, DocumentPath.Root, file);
        if (!node.Has(VersionProperty))
        {
            return ReceiverList.One(string.Empty, PreparationDocument.Read(node));
        }

        DocumentVersion.Read(node, VersionProperty, Version);
        node.OnlyHas(VersionProperty, "next", "receivers");
        var all = node.List("receivers", Read);
        return all.Count is > 0 and <= ReceiverList.Most && all.Select(r => r.Id).Distinct().Count() == all.Count
            ? ReceiverList.Of(all, (int)node["next"].Whole(1, int.MaxValue))
            : throw node["receivers"].Error(DocumentCodes.BadValue, $"There are 1 to {ReceiverList.Most} receivers, each with an id of its own.");
    }

    private static void Write(Utf8JsonWriter json, Receiver receiver)
    {
        json.WriteStartObject();
        json.WriteString("id", receiver.Id);
        json.WriteString("name", receiver.Name);
        if (receiver.Sheet is { } sheet)
        {
            json.WriteString("sheet", sheet);
        }

        json.WritePropertyName("preparation");
        PreparationDocument.Write(json, receiver.Preparation);
        json.WriteEndObject();
    }

    private static Receiver Read(DocumentNode node)
    {
        node.OnlyHas("id", "name", "sheet", "preparation");
        return new Receiver(node["id"].Text(), node["name"].Text(), PreparationDocument.Read(node["preparation"])) { Sheet = node.Optional<string?>("sheet", null, n => n.Text()) };
    }
}
