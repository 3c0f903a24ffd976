using System.Globalization;
using System.Text;

namespace Lyrotrans.Core.Naming;

/// <summary>A pattern for delivered names: fields such as <c>{order}</c> and <c>{track}</c>, and any text between.</summary>
public static class NamePattern
{
    /// <summary>The field for the name of the track.</summary>
    public const string Track = "{track}";

    /// <summary>The field for the number of the file.</summary>
    public const string Order = "{order}";

    /// <summary>What files are called where nothing else was chosen.</summary>
    public const string Usual = Order + "_" + Track;

    /// <summary>The field for the date of the revision.</summary>
    public const string Date = "{date}";

    private const string Separators = " _-.";

    private static readonly IReadOnlyList<(string Field, Func<NameFields, string> Of)> s_fields =
    [
        (Order, f => f.Order.ToString("D" + f.Digits, CultureInfo.InvariantCulture)), (Track, f => f.Track), ("{session}", f => f.Session), ("{take}", f => f.Take), ("{group}", f => f.Group), ("{treatment}", f => f.Treatment),
        ("{tempo}", f => f.Tempo), ("{key}", f => f.Key), ("{rate}", f => f.Rate), ("{depth}", f => f.Depth), ("{version}", f => f.Version), (Date, f => f.Date),
    ];

    /// <summary>What stands in braces.</summary>
    public static IReadOnlyList<string> Fields { get; } = [.. s_fields.Select(f => f.Field)];

    /// <summary>Those of them that documents of before had.</summary>
    public static IReadOnlyList<string> FieldsOfBefore { get; } = [.. Fields.Take(3)];

    /// <summary>Whether a pattern has a field.</summary>
    public static bool Has(string pattern, string field) => pattern.Contains(field, StringComparison.Ordinal);

    /// <summary>The number that a name of the usual pattern begins with; 0 where it begins with none.</summary>
    /// <param name="name">Without folders.</param>
    public static int NumberOf(string name)
    {
        var digits = new string([.. name.TakeWhile(char.IsAsciiDigit)]);
        return digits.Length is > 0 and < 5 ? int.Parse(digits, CultureInfo.InvariantCulture) : 0;
    }

    /// <summary>What is wrong with a pattern, in words; null when it is good.</summary>
    public static string? Problem(string pattern)
    {
        if (string.IsNullOrWhiteSpace(pattern) || pattern.Length > 100)
        {
            return "A name pattern has 1 to 100 characters.";
        }

        var rest = Fields.Aggregate(pattern, (text, field) => text.Replace(field, string.Empty, StringComparison.Ordinal));
        return rest.Contains('{', StringComparison.Ordinal) || rest.Contains('}', StringComparison.Ordinal)
            ? $"\"{pattern}\" has a field that does not exist; there are {string.Join(", ", Fields)}."
            : rest == pattern && !pattern.Any(char.IsLetterOrDigit) ? $"\"{pattern}\" makes names without a letter; there are the fields {string.Join(", ", Fields)}." : null;
    }

    /// <summary>The name that a pattern makes. A field that says nothing between marks or blanks takes those before it along, or those after it at the beginning.</summary>
    public static string Fill(string pattern, NameFields fields)
    {
        var name = new StringBuilder();
        var swallow = false;
        for (var at = 0; at < pattern.Length;)
        {
            var (field, of) = s_fields.FirstOrDefault(f => string.CompareOrdinal(pattern, at, f.Field, 0, f.Field.Length) == 0);
            var text = field is null ? pattern[at].ToString() : of(fields);
            at += field?.Length ?? 1;
            if (field is not null && text.Length == 0)
            {
                var ends = at == pattern.Length || Separators.Contains(pattern[at], StringComparison.Ordinal);
                while (ends && name.Length > 0 && Separators.Contains(name[^1], StringComparison.Ordinal))
                {
                    name.Length--;
                }

                swallow = name.Length == 0;
            }
            else if (field is not null || !(swallow && Separators.Contains(text, StringComparison.Ordinal)))
            {
                name.Append(text);
                swallow = false;
            }
        }

        return name.ToString();
    }
}
