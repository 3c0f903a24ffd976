namespace Lyrotrans.Core.Naming;

/// <summary>The words of a name in lower case, and what they say of a file's role.</summary>
public static class NameWords
{
    private static readonly string[] s_print = ["print", "printed", "prints", "wet", "rendered", "render", "bounce", "bounced", "frozen"];
    private static readonly string[] s_stem = ["stem", "stems", "group", "sub"];
    private static readonly string[] s_mix = ["mix", "mixdown", "guide", "rough", "reference", "ref"];
    private static readonly string[] s_click = ["click", "clicktrack", "metronome"];
    private static readonly string[] s_neither = ["dry", "di", "raw", "no", "without", "minus", "less"];

    /// <summary>A name parted where letters and digits change, and at everything else.</summary>
    public static IReadOnlyList<string> Of(string name)
    {
        var (words, word) = (new List<string>(), string.Empty);
        foreach (var letter in name)
        {
            if (!char.IsLetterOrDigit(letter) || (word.Length > 0 && char.IsDigit(letter) != char.IsDigit(word[^1])))
            {
                Add(words, ref word);
            }

            word += char.IsLetterOrDigit(letter) ? char.ToLowerInvariant(letter) : string.Empty;
        }

        Add(words, ref word);
        return words;
    }

    /// <summary>Whether a name says that its sound was printed through effects.</summary>
    public static bool SaysPrint(IReadOnlyList<string> words) => words.Any(s_print.Contains) && !SaysNeither(words);

    /// <summary>Whether a name says that its sound is a stem.</summary>
    public static bool SaysStem(IReadOnlyList<string> words) => words.Any(s_stem.Contains) && !SaysNeither(words);

    /// <summary>Whether a name says that its sound is a mix of everything.</summary>
    public static bool SaysMix(IReadOnlyList<string> words) => words.Any(s_mix.Contains) && !SaysNeither(words);

    /// <summary>Whether a name says that its sound is a click.</summary>
    public static bool SaysClick(IReadOnlyList<string> words) => words.Any(s_click.Contains) && !SaysNeither(words);

    /// <summary>A name without the words that say that it was printed; null where it has none.</summary>
    public static string? PrintedOf(IReadOnlyList<string> words) => SaysPrint(words) && words.Any(w => !s_print.Contains(w)) ? string.Join(' ', words.Where(w => !s_print.Contains(w))) : null;

    /// <summary>A name without the words that say which take it is; null where none do, or nothing else is left.</summary>
    public static string? TakenOf(IReadOnlyList<string> words)
    {
        var at = Enumerable.Range(0, Math.Max(0, words.Count - 1)).FirstOrDefault(i => words[i] is "take" or "tk" && words[i + 1].All(char.IsDigit), -1);
        return at >= 0 && words.Count > 2 ? string.Join(' ', words.Take(at).Concat(words.Skip(at + 2))) : null;
    }

    /// <summary>Whether all words of one name follow each other in the other.</summary>
    public static bool Holds(IReadOnlyList<string> words, IReadOnlyList<string> name) =>
        name.Count > 0 && Enumerable.Range(0, Math.Max(0, words.Count - name.Count + 1)).Any(i => words.Skip(i).Take(name.Count).SequenceEqual(name));

    /// <summary>How many words neither belong to the other name, nor say a role, nor count.</summary>
    public static int Others(IReadOnlyList<string> words, IReadOnlyList<string> name) =>
        words.Count(w => !name.Contains(w) && !s_print.Contains(w) && !s_stem.Contains(w) && w is not ("only" or "v" or "take") && !w.All(char.IsDigit));

    private static bool SaysNeither(IReadOnlyList<string> words) => words.Any(s_neither.Contains);

    private static void Add(List<string> words, ref string word)
    {
        if (word.Length > 0)
        {
            words.Add(word);
            word = string.Empty;
        }
    }
}
