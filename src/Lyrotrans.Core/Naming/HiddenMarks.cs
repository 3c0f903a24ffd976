using System.Globalization;
using System.Text;

namespace Lyrotrans.Core.Naming;

/// <summary>
/// Characters that are not seen and change what is: marks that turn the direction of writing, that have no width, or that steer a terminal. A name with them looks like another, so
/// they are shown for what they are.
/// </summary>
public static class HiddenMarks
{
    /// <summary>Whether a character is one. Spaces, tabs and ends of lines are not.</summary>
    public static bool Is(Rune rune) => rune.Value is not ('\t' or '\n' or '\r')
        && (Rune.GetUnicodeCategory(rune) is UnicodeCategory.Control or UnicodeCategory.Format or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator
            || rune.Value is 0x115F or 0x1160 or 0x3164 or 0xFFA0);

    /// <summary>A mark as it is shown: <c>[U+202E]</c>.</summary>
    public static string Shown(Rune mark) => $"[U+{mark.Value:X4}]";

    /// <summary>A text with its marks shown; a lone surrogate is shown as the replacement character.</summary>
    public static string Shown(string text) => text.Any(c => char.IsSurrogate(c) || Is(new Rune(c))) ? string.Concat(text.EnumerateRunes().Select(r => Is(r) ? Shown(r) : r.ToString())) : text;
}
