using System.Text.Json;
using System.Text.Unicode;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Binary;

/// <summary>Opens JSON that somebody else wrote. What the parser of the platform finds only when a text is asked for is found here first.</summary>
public static class JsonInput
{
    /// <summary>The most values, names of properties among them; each costs memory many times its bytes. Two million notes are half of it.</summary>
    public const int MostValues = 1 << 25;

    // Some editors put a byte order mark before UTF-8.
    private static readonly byte[] s_mark = [0xEF, 0xBB, 0xBF];

    /// <param name="stream">Read at once, from where it stands.</param>
    /// <param name="file">For errors.</param>
    /// <param name="deepest">How deep it may be nested.</param>
    /// <exception cref="BadInputException">It is not UTF-8, not whole JSON, or nested deeper.</exception>
    public static JsonDocument Parse(Stream stream, string file, int deepest = 64)
    {
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return Parse(bytes.GetBuffer().AsMemory(0, (int)bytes.Length), file, deepest);
    }

    /// <param name="bytes">The document; it must not change while the result is used.</param>
    /// <param name="file">For errors.</param>
    /// <param name="deepest">How deep it may be nested.</param>
    /// <exception cref="BadInputException">It is not UTF-8, not whole JSON, or nested deeper.</exception>
    public static JsonDocument Parse(ReadOnlyMemory<byte> bytes, string file, int deepest = 64)
    {
        bytes = bytes.Span.StartsWith(s_mark) ? bytes[s_mark.Length..] : bytes;
        if (!Utf8.IsValid(bytes.Span))
        {
            throw new BadInputException(JsonCodes.NotUtf8, file, FirstWrong(bytes.Span), "This is not UTF-8, as JSON is.", "Save it as UTF-8 where it was made.");
        }

        if (HasTooManyValues(bytes.Span, deepest))
        {
            throw new BadInputException(FileCodes.TooLarge, file, string.Empty, $"It has more than {MostValues} values.", "Send it in parts.");
        }

        try
        {
            return JsonDocument.Parse(bytes, new JsonDocumentOptions { MaxDepth = deepest });
        }
        catch (JsonException problem)
        {
            var deep = IsDeeper(bytes.Span, deepest);
            throw new BadInputException(
                deep ? JsonCodes.TooDeep : JsonCodes.Broken, file, $"line {problem.LineNumber + 1}, byte {problem.BytePositionInLine + 1}",
                deep ? $"It is nested deeper than {deepest}." : "This is not whole JSON.", deep ? "Flatten it where it was made." : "It was cut short or edited by mistake; write it again.");
        }
    }

    // Each value but the first follows one of these; only where there are so many is it worth knowing which of them stand in texts.
    private static bool HasTooManyValues(ReadOnlySpan<byte> bytes, int deepest)
    {
        if (bytes.Length <= MostValues || (long)bytes.Count((byte)',') + bytes.Count((byte)':') + bytes.Count((byte)'[') + bytes.Count((byte)'{') < MostValues)
        {
            return false;
        }

        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = deepest });
        var values = 0L;
        try
        {
            while (values <= MostValues && reader.Read())
            {
                values += reader.TokenType is JsonTokenType.EndArray or JsonTokenType.EndObject ? 0 : 1;
            }
        }
        catch (JsonException)
        {
            // What is wrong with it is said where it is read.
        }

        return values > MostValues;
    }

    // The platform says it in a sentence alone.
    private static bool IsDeeper(ReadOnlySpan<byte> bytes, int deepest)
    {
        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = deepest + 1 });
        try
        {
            while (reader.Read())
            {
                if (reader.TokenType is JsonTokenType.StartArray or JsonTokenType.StartObject && reader.CurrentDepth == deepest)
                {
                    return true;
                }
            }
        }
        catch (JsonException)
        {
            // Broken before it gets that deep.
        }

        return false;
    }

    /// <summary>The text of a value; null where an escape in it is half of a pair, which no text can hold.</summary>
    public static string? TextOf(JsonElement value)
    {
        try
        {
            return value.GetString();
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    /// <summary>The name of a property; null as for <see cref="TextOf"/>.</summary>
    public static string? NameOf(JsonProperty property)
    {
        try
        {
            return property.Name;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    private static long FirstWrong(ReadOnlySpan<byte> bytes)
    {
        var (good, bad) = (0, bytes.Length);
        while (bad - good > 1)
        {
            // A cut inside a character makes the part before it wrong too; it is at most three bytes off.
            var middle = good + ((bad - good) / 2);
            (good, bad) = Utf8.IsValid(bytes[..middle]) ? (middle, bad) : (good, middle);
        }

        return good;
    }
}
