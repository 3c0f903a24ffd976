using System.Text.Json;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Formats.Preparations;

/// <summary>The choices of a preparation that are kept with what was made by them.</summary>
public static class KeptChoices
{
    /// <summary>The choices of a preparation that say how clips go, to be kept with them.</summary>
    public static string OfClips(Preparation preparation)
    {
        using var whole = JsonDocument.Parse(PreparationDocument.Write(preparation));
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output))
        {
            json.WriteStartObject();
            foreach (var property in whole.RootElement.EnumerateObject().Where(p => p.Name is "namePattern" or "encoding" or "deliveredRate" or PreparationDocument.KindsPart or "clips"))
            {
                property.WriteTo(json);
            }

            json.WriteEndObject();
        }

        return System.Text.Encoding.UTF8.GetString(output.ToArray());
    }
}
