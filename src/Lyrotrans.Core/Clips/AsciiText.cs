using System.Text;

namespace Lyrotrans.Core.Clips;

/// <summary>Text in ASCII alone: letters without their marks, and a sign for what has no letter there.</summary>
public static class AsciiText
{
    private const char Replacement = '_';

    // Of its own, so that a name is the same on every machine: what a system knows of letters is not.
    private static readonly Dictionary<char, string> s_letters = Letters(
        "A ÀÁÂÃÄÅĀĂĄ", "a àáâãäåāăą", "C ÇĆĈĊČ", "c çćĉċč", "D ĎĐÐ", "d ďđð", "E ÈÉÊËĒĔĖĘĚ", "e èéêëēĕėęě", "G ĜĞĠĢ", "g ĝğġģ", "H ĤĦ", "h ĥħ", "I ÌÍÎÏĨĪĬĮİ", "i ìíîïĩīĭįı", "J Ĵ", "j ĵ", "K Ķ", "k ķ",
        "L ĹĻĽĿŁ", "l ĺļľŀł", "N ÑŃŅŇ", "n ñńņň", "O ÒÓÔÕÖØŌŎŐ", "o òóôõöøōŏő", "R ŔŖŘ", "r ŕŗř", "S ŚŜŞŠȘ", "s śŝşšș", "T ŢŤŦȚ", "t ţťŧț", "U ÙÚÛÜŨŪŬŮŰŲ", "u ùúûüũūŭůűų", "W Ŵ", "w ŵ", "Y ÝŶŸ", "y ýÿŷ",
        "Z ŹŻŽ", "z źżž", "ss ß", "ae æ", "AE Æ", "oe œ", "OE Œ", "Th Þ", "th þ", "- –—−‑", "' ‘’‚′", "\" “”„″«»", "... …", "x ×");

    /// <summary>Whether a text has no other characters than those of ASCII.</summary>
    public static bool IsAscii(string text) => text.All(char.IsAscii);

    /// <summary>The nearest text; a character outside the first plane counts once.</summary>
    public static string Of(string text)
    {
        if (IsAscii(text))
        {
            return text;
        }

        var plain = new StringBuilder();
        foreach (var rune in text.EnumerateRunes())
        {
            plain.Append(rune.IsAscii ? ((char)rune.Value).ToString()
                : rune.Value is >= 0x300 and < 0x370 ? string.Empty
                : rune.Value == 0xA0 ? " "
                : rune.IsBmp && s_letters.TryGetValue((char)rune.Value, out var letters) ? letters
                : Replacement.ToString());
        }

        return plain.ToString();
    }

    private static Dictionary<char, string> Letters(params string[] groups) =>
        groups.Select(g => g.Split(' ')).SelectMany(g => g[1].Select(letter => (letter, Plain: g[0]))).ToDictionary(p => p.letter, p => p.Plain);
}
