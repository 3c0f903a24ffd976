using Lyrotrans.Core.Naming;

namespace Lyrotrans.Web.Text;

/// <summary>Text of elsewhere, made fit for one line of a list.</summary>
public static class Shown
{
    /// <summary>The text without hidden marks and ends of lines, of no more than so many characters.</summary>
    public static string Line(string text, int most) => string.Concat(text.EnumerateRunes().Where(r => !HiddenMarks.Is(r) && r.Value is not ('\t' or '\n' or '\r')).Take(most).Select(r => r.ToString()));
}
