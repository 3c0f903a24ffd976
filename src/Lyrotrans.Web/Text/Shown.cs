using System.Globalization;
using System.Text;

namespace Lyrotrans.Web.Text;

/// <summary>Text of elsewhere, made fit for one line of a list.</summary>
public static class Shown
{
    /// <summary>The text without control, direction and other invisible characters, of no more than so many characters.</summary>
    public static string Line(string text, int most) => string.Concat(text.EnumerateRunes().Where(IsSeen).Take(most).Select(r => r.ToString()));

    private static bool IsSeen(Rune rune) =>
        Rune.GetUnicodeCategory(rune) is not (UnicodeCategory.Control or UnicodeCategory.Format or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator);
}
