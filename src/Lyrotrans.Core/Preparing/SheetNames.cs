using System.Text;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Preparing;

/// <summary>Names as a receiver takes them.</summary>
public static class SheetNames
{
    private const string PlainMarks = "-_";

    /// <summary>The nearest name of letters that are taken: marks fall off letters, everything else becomes <c>_</c>. A name of letters that are taken stays as it is.</summary>
    public static string Kept(string name, NameLetters letters)
    {
        if (letters == NameLetters.Any || name.All(c => IsTaken(c, letters)))
        {
            return name;
        }

        var kept = new StringBuilder();
        foreach (var c in Composed.WithoutMarks(name))
        {
            kept.Append(IsTaken(c, letters) ? c : '_');
        }

        return kept.ToString();
    }

    /// <summary>A name that is no longer than a number of characters; what is left out is the end.</summary>
    public static string Shortened(string name, long longest) => string.Concat(name.EnumerateRunes().Take((int)Math.Min(int.MaxValue, longest)).Select(r => r.ToString()));

    /// <summary>A preparation whose names are all as its sheet takes them, each still its own.</summary>
    public static Preparation Fitted(Preparation preparation, IReadOnlyDictionary<string, string> names)
    {
        if (preparation.Sheet is not { } sheet)
        {
            return preparation;
        }

        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var fitted = new Dictionary<string, string>();
        foreach (var choice in preparation.Tracks.Where(c => names.ContainsKey(c.TrackId)))
        {
            fitted[choice.TrackId] = Own(Kept(names[choice.TrackId], sheet.Letters), sheet.LongestName ?? long.MaxValue, taken);
        }

        return preparation with { NamePattern = "{track}", Tracks = [.. preparation.Tracks.Select(c => fitted.TryGetValue(c.TrackId, out var name) ? c with { Name = name } : c)] };
    }

    private static string Own(string name, long longest, HashSet<string> taken)
    {
        for (var number = 1; ; number++)
        {
            var end = number == 1 ? string.Empty : $"_{number}";
            // What is cut off before a blank would end with it; as a file it loses that, and would then be another's.
            var cut = Shortened(name, longest - end.Length);
            var own = (cut != name && cut.TrimEnd(' ', '_', '.', '-') is { Length: > 0 } ends ? ends : cut) + end;
            if (taken.Add(LegalName.From(own)))
            {
                return own;
            }
        }
    }

    private static bool IsTaken(char c, NameLetters letters) => letters == NameLetters.Ascii ? c is >= ' ' and < (char)127 : char.IsAsciiLetterOrDigit(c) || PlainMarks.Contains(c);
}
