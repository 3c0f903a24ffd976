using System.Collections.Frozen;

namespace Lyrotrans.Web.Doors;

/// <summary>
/// How much of a password somebody would have to guess. A character counts one; a common password or word, what is known of the person, a row of keys or of the
/// alphabet, a repetition or a number counts three however long it is, and once however often.
/// </summary>
public static class PasswordStrength
{
    /// <summary>Less than this is guessed soon.</summary>
    public const int Least = 9;

    private const int OfPiece = 3;
    private const int LeastWord = 4;
    private const int LeastRow = 3;
    private const int LongestNumber = 8;

    private static readonly FrozenSet<string> s_common = Read();
    private static readonly int s_longest = s_common.Max(w => w.Length);
    private static readonly string[] s_rows = ["abcdefghijklmnopqrstuvwxyz", "01234567890", "qwertyuiop", "qwertzuiop", "asdfghjkl", "zxcvbnm", "yxcvbnm", "1qaz2wsx3edc4rfv5tgb6yhn7ujm8ik9ol0p", "qazwsxedcrfvtgbyhnujmikolp", "1q2w3e4r5t6y7u8i9o0p"];

    /// <summary>The count.</summary>
    /// <param name="password">As typed.</param>
    /// <param name="known">Words that whoever guesses knows, such as the person's own address.</param>
    public static int Of(string password, IEnumerable<string> known)
    {
        var (typed, own) = (password.ToLowerInvariant(), known.Select(w => w.ToLowerInvariant()).Where(w => w.Length >= LeastRow).ToHashSet());
        var plain = string.Concat(typed.Select(Meant));
        var pieces = new HashSet<string>();
        var count = 0;
        for (var at = 0; at < typed.Length;)
        {
            var length = Math.Max(Math.Max(Word(typed, at, own), Word(plain, at, own)), Math.Max(Row(typed, at), Math.Max(Repetition(typed, at), Number(typed, at))));
            count += length == 0 ? 1 : pieces.Add(plain.Substring(at, length)) ? OfPiece : 0;
            at += Math.Max(1, length);
        }

        return count;
    }

    // The longest word that begins here.
    private static int Word(string text, int at, HashSet<string> own)
    {
        for (var length = Math.Min(Math.Max(s_longest, own.Count > 0 ? own.Max(w => w.Length) : 0), text.Length - at); length >= LeastRow; length--)
        {
            var word = text.Substring(at, length);
            if (own.Contains(word) || (length >= LeastWord && s_common.Contains(word)))
            {
                return length;
            }
        }

        return 0;
    }

    private static int Row(string text, int at)
    {
        var longest = 0;
        foreach (var row in s_rows)
        {
            for (var from = row.IndexOf(text[at], StringComparison.Ordinal); from >= 0; from = row.IndexOf(text[at], from + 1))
            {
                longest = Math.Max(longest, Math.Max(Along(row, from, 1), Along(row, from, -1)));
            }
        }

        return longest >= LeastRow ? longest : 0;

        int Along(string row, int from, int step)
        {
            var length = 0;
            while (at + length < text.Length && from >= 0 && from < row.Length && text[at + length] == row[from])
            {
                length++;
                from += step;
            }

            return length;
        }
    }

    private static int Repetition(string text, int at)
    {
        var length = 1;
        while (at + length < text.Length && text[at + length] == text[at])
        {
            length++;
        }

        return length >= LeastRow ? length : 0;
    }

    // A year or a day; digits that go on are as good as others.
    private static int Number(string text, int at)
    {
        var length = 0;
        while (at + length < text.Length && char.IsAsciiDigit(text[at + length]))
        {
            length++;
        }

        var begins = at == 0 || !char.IsAsciiDigit(text[at - 1]);
        return begins && length is > OfPiece and <= LongestNumber ? length : 0;
    }

    private static char Meant(char c) => c switch { '0' => 'o', '1' => 'i', '3' => 'e', '4' => 'a', '5' => 's', '7' => 't', '@' => 'a', '$' => 's', _ => c };

    private static FrozenSet<string> Read()
    {
        using var reader = new StreamReader(typeof(PasswordStrength).Assembly.GetManifestResourceStream("common-passwords.txt")!);
        return reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries).Where(l => l[0] != '#').ToFrozenSet(StringComparer.Ordinal);
    }
}
