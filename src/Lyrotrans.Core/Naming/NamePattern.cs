using System.Globalization;

namespace Lyrotrans.Core.Naming;

/// <summary>A pattern for delivered names: <c>{order}</c>, <c>{track}</c>, <c>{session}</c> and any text between.</summary>
public static class NamePattern
{
    /// <summary>The field for the name of the track.</summary>
    public const string Track = "{track}";

    /// <summary>What stands in braces.</summary>
    public static IReadOnlyList<string> Fields { get; } = ["{order}", Track, "{session}"];

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

    /// <param name="order">From 1.</param>
    /// <param name="digits">At least so many digits in the order.</param>
    public static string Fill(string pattern, int order, int digits, string track, string session) => pattern
        .Replace("{order}", order.ToString("D" + digits, CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{session}", session, StringComparison.Ordinal)
        .Replace(Track, track, StringComparison.Ordinal);
}
