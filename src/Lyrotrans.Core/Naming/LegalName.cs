using System.Globalization;
using System.Text;

namespace Lyrotrans.Core.Naming;

/// <summary>File names that every system takes: Windows, macOS, Linux and what is packed between them.</summary>
public static class LegalName
{
    /// <summary>Longest name without its extension, in UTF-8 bytes.</summary>
    public const int LongestBytes = 120;

    private static readonly HashSet<string> s_reserved = new(StringComparer.OrdinalIgnoreCase)
    {
        "CON", "PRN", "AUX", "NUL",
        "COM1", "COM2", "COM3", "COM4", "COM5", "COM6", "COM7", "COM8", "COM9",
        "LPT1", "LPT2", "LPT3", "LPT4", "LPT5", "LPT6", "LPT7", "LPT8", "LPT9",
    };

    /// <summary>
    /// The nearest legal name: letters and digits of any script stay, spaces become <c>_</c>, what some system refuses
    /// becomes <c>-</c>, reserved names get a <c>_</c>, and it never ends in a dot or is empty.
    /// </summary>
    public static string From(string name)
    {
        var text = new StringBuilder();
        foreach (var rune in Composed.Of(name).EnumerateRunes())
        {
            text.Append(Replace(rune));
        }

        var legal = Shorten(text.ToString().Trim('_', '.', ' '));
        legal = legal.Length == 0 ? "unnamed" : legal;
        return s_reserved.Contains(legal.Split('.')[0]) ? "_" + legal : legal;
    }

    /// <summary>Whether some system would refuse or change it.</summary>
    public static bool IsRefusedSomewhere(string name) =>
        name.Length == 0 || name.Any(c => "<>:\"/\\|?*".Contains(c) || char.IsControl(c)) || name[^1] is '.' or ' '
        || s_reserved.Contains(name.Split('.')[0]) || Encoding.UTF8.GetByteCount(name) > LongestBytes;

    /// <summary>The names made unique (<see cref="SameName"/>), by <c>_2</c>, <c>_3</c> … at the end of later ones.</summary>
    public static IReadOnlyList<string> Unique(IEnumerable<string> names)
    {
        var taken = new TakenNames(SameName.Comparer);
        return [.. names.Select(n => taken.Free(n, '_'))];
    }

    private static string Replace(Rune rune)
    {
        if (HiddenMarks.Is(rune))
        {
            return "-";
        }

        if (Rune.IsLetterOrDigit(rune) || rune.Value is '-' or '_' or '.' or '+' or '(' or ')' || IsMark(rune))
        {
            return rune.ToString();
        }

        return Rune.IsWhiteSpace(rune) ? "_" : "-";
    }

    private static bool IsMark(Rune rune) =>
        Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark;

    private static string Shorten(string name)
    {
        while (Encoding.UTF8.GetByteCount(name) > LongestBytes)
        {
            var cut = char.IsLowSurrogate(name[^1]) ? 2 : 1;
            name = name[..^cut].TrimEnd('.', '_');
        }

        return name;
    }
}
