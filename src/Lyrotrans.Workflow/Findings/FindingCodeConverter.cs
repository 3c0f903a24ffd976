using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Findings;

/// <summary>Keeps a code as its identifier.</summary>
internal sealed class FindingCodeConverter : JsonConverter<FindingCode>
{
    public override FindingCode Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => new(reader.GetString()!);

    public override void Write(Utf8JsonWriter writer, FindingCode value, JsonSerializerOptions options) => writer.WriteStringValue(value.Id);
}
