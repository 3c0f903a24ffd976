using System.Text;

namespace Lyrotrans.Core.Sessions;

/// <summary>What may stand in a note to a track or a clip.</summary>
public static class NoteText
{
    /// <summary>Whether a text can be a note as it is: not longer than <see cref="SessionLimits.LongestNote"/>, and without control characters but line ends and tabs.</summary>
    public static bool IsOne(string text) => text.Length <= SessionLimits.LongestNote && !text.Any(IsOut);

    /// <summary>A text as a note: trimmed, without what cannot be in one, and cut off where it is too long.</summary>
    public static string Of(string text)
    {
        var (kept, length) = (new StringBuilder(), 0);
        foreach (var rune in text.Trim().EnumerateRunes().Where(r => !r.IsBmp || !IsOut((char)r.Value)))
        {
            length += rune.Utf16SequenceLength;
            if (length > SessionLimits.LongestNote)
            {
                break;
            }

            kept.Append(rune);
        }

        return kept.ToString();
    }

    private static bool IsOut(char letter) => char.IsControl(letter) && letter is not ('\n' or '\t');
}
