using System.Globalization;
using System.Text;

namespace Lyrotrans.Core.Clips;

/// <summary>Text in ASCII alone, as OMF has it: letters without their marks, and a sign for what has no letter there.</summary>
public static class PlainText
{
    private const char Replacement = '_';
    private static readonly Dictionary<char, string> s_letters = new()
    {
        ['ß'] = "ss", ['æ'] = "ae", ['Æ'] = "AE", ['ø'] = "o", ['Ø'] = "O", ['œ'] = "oe", ['Œ'] = "OE", ['ł'] = "l", ['Ł'] = "L", ['đ'] = "d", ['Đ'] = "D", ['þ'] = "th", ['Þ'] = "Th",
        ['–'] = "-", ['—'] = "-", ['−'] = "-", ['‘'] = "'", ['’'] = "'", ['“'] = "\"", ['”'] = "\"", ['…'] = "...", ['\u00A0'] = " ",
    };

    public static bool IsPlain(string text) => text.All(char.IsAscii);

    /// <summary>The nearest text; a character outside the first plane counts once.</summary>
    public static string Of(string text)
    {
        if (IsPlain(text))
        {
            return text;
        }

        var plain = new StringBuilder();
        foreach (var rune in text.Normalize(NormalizationForm.FormD).EnumerateRunes())
        {
            plain.Append(rune.IsAscii ? ((char)rune.Value).ToString()
                : rune.IsBmp && s_letters.TryGetValue((char)rune.Value, out var letters) ? letters
                : Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark ? string.Empty
                : Replacement.ToString());
        }

        return plain.ToString();
    }
}
