using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>A place in a JSON document that knows its path, so that every error can name it (<c>$.tracks[3].name</c>).</summary>
public readonly struct DocumentNode(JsonElement element, DocumentPath path, string file)
{
    // Arithmetic on numbers of thousands of digits takes for ever.
    private const int LongestRatio = 200;

    /// <summary>Such as <c>$.tracks[3].name</c>.</summary>
    public string Path => path.ToString();

    /// <summary>The refusal of what stands here.</summary>
    public BadInputException Error(FindingCode code, string problem, string remedy = "Correct the document there.") => new(code, file, Path, problem, remedy);

    /// <summary>Checks that this is an object with no other properties than these.</summary>
    public void OnlyHas(params ReadOnlySpan<string> names)
    {
        if (element.ValueKind != JsonValueKind.Object)
        {
            throw Error(DocumentCodes.WrongKind, $"An object is expected here, not {Kind()}.");
        }

        foreach (var property in element.EnumerateObject())
        {
            var name = JsonInput.NameOf(property) ?? throw Error(DocumentCodes.BadValue, "An escape in the name of a property is half of a pair.");
            if (!names.Contains(name))
            {
                throw Error(DocumentCodes.Unknown, $"There is no property \"{name}\" here; there are {string.Join(", ", names.ToArray())}.");
            }
        }
    }

    /// <summary>Whether this is an object with such a property.</summary>
    public bool Has(string name) => element.ValueKind == JsonValueKind.Object && element.TryGetProperty(name, out _);

    /// <summary>A property of this object.</summary>
    /// <exception cref="BadInputException">This is no object, or has no such property.</exception>
    public DocumentNode this[string name] => element.ValueKind == JsonValueKind.Object && element.TryGetProperty(name, out var value)
        ? new DocumentNode(value, new DocumentPath(path, name), file)
        : throw Error(DocumentCodes.Missing, $"The property \"{name}\" is missing.");

    /// <summary>What is read of a property, or otherwise where there is none.</summary>
    public T Optional<T>(string name, T otherwise, Func<DocumentNode, T> read) => Has(name) ? read(this[name]) : otherwise;

    /// <summary>The items of this list.</summary>
    /// <exception cref="BadInputException">This is no list.</exception>
    public IEnumerable<DocumentNode> Items()
    {
        if (element.ValueKind != JsonValueKind.Array)
        {
            throw Error(DocumentCodes.WrongKind, $"A list is expected here, not {Kind()}.");
        }

        var (at, name) = (path, file);
        return element.EnumerateArray().Select((item, i) => new DocumentNode(item, new DocumentPath(at, i), name));
    }

    /// <summary>What is read of each item of a property; empty where there is no such property.</summary>
    public ValueArray<T> List<T>(string name, Func<DocumentNode, T> read) => Has(name) ? this[name].Items().Select(read).ToValueArray() : [];

    /// <summary>A SHA-256: 64 lower-case hex digits.</summary>
    public string Sum()
    {
        var text = Text();
        return text.Length == 64 && text.All(c => c is >= '0' and <= '9' or >= 'a' and <= 'f') ? text : throw Error(DocumentCodes.BadValue, "A SHA-256 is 64 lower-case hex digits.");
    }

    /// <summary>This text.</summary>
    /// <exception cref="BadInputException">This is no text, or has half of a surrogate pair.</exception>
    public string Text() => element.ValueKind == JsonValueKind.String ? JsonInput.TextOf(element) ?? throw Error(DocumentCodes.BadValue, "An escape in this text is half of a pair.") : throw Error(DocumentCodes.WrongKind, $"Text is expected here, not {Kind()}.");

    /// <summary>This whole number.</summary>
    /// <exception cref="BadInputException">This is no whole number of 64 bits, or out of bounds.</exception>
    public long Whole(long least = long.MinValue, long most = long.MaxValue)
    {
        if (element.ValueKind != JsonValueKind.Number || !element.TryGetInt64(out var value))
        {
            throw Error(DocumentCodes.WrongKind, $"A whole number is expected here, not {Kind()}.");
        }

        return value >= least && value <= most ? value : throw Error(DocumentCodes.BadValue, $"{value} is not between {least} and {most}.");
    }

    /// <summary>This number.</summary>
    /// <exception cref="BadInputException">This is no number, or not finite.</exception>
    public double Number() => element.ValueKind == JsonValueKind.Number && element.TryGetDouble(out var value) && double.IsFinite(value)
        ? value
        : throw Error(DocumentCodes.WrongKind, $"A number is expected here, not {Kind()}.");

    /// <summary>Whether this is true.</summary>
    /// <exception cref="BadInputException">This is neither true nor false.</exception>
    public bool Truth() => element.ValueKind is JsonValueKind.True or JsonValueKind.False
        ? element.GetBoolean()
        : throw Error(DocumentCodes.WrongKind, $"true or false is expected here, not {Kind()}.");

    /// <summary>A text, or <c>true</c> and <c>false</c> as such.</summary>
    public string TextOrTruth() => element.ValueKind is JsonValueKind.True or JsonValueKind.False ? element.GetRawText() : Text();

    /// <summary>This ratio, in a text such as "3/2".</summary>
    /// <param name="least">No less than this.</param>
    /// <param name="most">No more than this.</param>
    /// <exception cref="BadInputException">This is no text, no ratio, one of more digits than any place or tempo needs, or not within the bounds.</exception>
    public Rational Ratio(long least = long.MinValue, long most = long.MaxValue)
    {
        var text = Text();
        if (text.Length > LongestRatio || !Rational.TryParse(text, out var value))
        {
            throw Error(DocumentCodes.BadValue, $"\"{(text.Length > LongestRatio ? text[..LongestRatio] + "…" : text)}\" is not a ratio such as \"3/2\".");
        }

        return value >= least && value <= most ? value : throw Error(DocumentCodes.BadValue, $"{text} is not between {least} and {most}.");
    }

    /// <summary>What this text stands for.</summary>
    /// <exception cref="BadInputException">This is no text, or none of the names.</exception>
    public T OneOf<T>(IReadOnlyDictionary<string, T> names) => names.TryGetValue(Text(), out var value)
        ? value
        : throw Error(DocumentCodes.Unknown, $"\"{Text()}\" is not known here; there are {string.Join(", ", names.Keys)}.");

    private string Kind() => element.ValueKind switch
    {
        JsonValueKind.Null => "null",
        JsonValueKind.Number => element.GetRawText(),
        JsonValueKind.String => "text",
        JsonValueKind.Array => "a list",
        JsonValueKind.Object => "an object",
        _ => element.GetRawText(),
    };
}
