using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Web.Text;

/// <summary>Writes the texts of an answer that scripts show with their hidden marks shown; reads them as they are.</summary>
public sealed class MarkedTextConverter : JsonConverter<string>
{
    public override string? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => reader.GetString();

    public override void Write(Utf8JsonWriter writer, string value, JsonSerializerOptions options) => writer.WriteStringValue(HiddenMarks.Shown(value));
}
