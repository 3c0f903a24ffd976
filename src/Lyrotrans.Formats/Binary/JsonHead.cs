using System.Text;

namespace Lyrotrans.Formats.Binary;

/// <summary>What the first bytes of a JSON document say.</summary>
internal static class JsonHead
{
    /// <summary>Whether they begin an object, and name a property somewhere in it.</summary>
    public static bool Has(ReadOnlySpan<byte> head, string property)
    {
        var body = Encoding.Latin1.GetString(head).TrimStart('\u00EF', '\u00BB', '\u00BF', ' ', '\t', '\r', '\n');
        return body.StartsWith('{') && body.Contains($"\"{property}\"", StringComparison.Ordinal);
    }
}
