using System.Text.RegularExpressions;

namespace Lyrotrans.Core.Naming;

/// <summary>Takes what recorders and programs leave in names off them. What tells two names apart stays, and a name never becomes empty.</summary>
public static partial class NameCleaner
{
    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    // Leftovers stand one behind the other; more of them than this no name has.
    private const int MostRounds = 8;

    /// <summary>The names, cleaned, in their order.</summary>
    public static IReadOnlyList<string> Clean(IReadOnlyList<string> names, NameCleaning rules)
    {
        if (!rules.Any)
        {
            return names;
        }

        var cleaned = names.Select(n => One(n, rules)).ToList();
        var same = cleaned.Zip(names).GroupBy(p => p.First, SameName.Comparer).Where(g => g.Select(p => p.Second).Distinct(SameName.Comparer).Count() > 1).Select(g => g.Key).ToHashSet(SameName.Comparer);

        // Their leftovers are what tells them apart.
        return [.. cleaned.Zip(names, (clean, name) => same.Contains(clean) ? name : clean)];
    }

    private static string One(string name, NameCleaning rules)
    {
        var clean = name;
        for (var round = 0; round < MostRounds; round++)
        {
            var before = clean;
            clean = Off(clean, rules.Numbers, LeadingNumber());
            clean = Off(clean, rules.Dates, Stamp());
            clean = Off(clean, rules.Copies, Copy());
            clean = Off(clean, rules.Prints, Print());
            clean = Off(clean, rules.Takes, Take());
            clean = rules.Spaces ? Doubled().Replace(clean, m => m.Value[..1]).Trim(' ', '_') : clean;
            if (clean == before)
            {
                break;
            }
        }

        return clean;
    }

    // A rule that would leave no letter leaves the name.
    private static string Off(string name, bool asked, Regex leftover) => asked && leftover.Replace(name, string.Empty) is var clean && clean.Any(char.IsLetter) ? clean : name;

    // 01 Cello, 1. Cello, 12_Cello, 3 - Cello; but 12 string, and 808.
    [GeneratedRegex(@"^\s*(?:0[0-9]{1,3}[-_. ]+|[0-9]{1,3}(?:[_.]+\s*|\s+-\s+))", Options)]
    private static partial Regex LeadingNumber();

    // Year, month, day, and hours, minutes and seconds after it.
    [GeneratedRegex(@"[-_. ]*(?<![0-9])(?:19|20)[0-9]{2}([-_.]?)(?:0[1-9]|1[0-2])\1(?:0[1-9]|[12][0-9]|3[01])(?:[-_. T]+[0-2][0-9][-_.:]?[0-5][0-9](?:[-_.:]?[0-5][0-9])?)?(?![0-9])", Options)]
    private static partial Regex Stamp();

    [GeneratedRegex(@"(?:[-_. ]+(?:take|tk)[-_. ]*[0-9]{1,3}|[-_. ]+t[0-9]{2,3}|[-_.][0-9]{2,4})\s*$", Options)]
    private static partial Regex Take();

    [GeneratedRegex(@"(?:[-_. ]*\((?:copy[-_. ]*[0-9]{0,3}|[0-9]{1,3})\)|[-_. ]+(?:copy|duplicate|dup)[-_. ]*[0-9]{0,3})\s*$", Options)]
    private static partial Regex Copy();

    [GeneratedRegex(@"[-_. ]+(?:print|printed|prints|bounce|bounced|render|rendered|frozen|consolidated)[-_. ]*[0-9]{0,3}\s*$", Options)]
    private static partial Regex Print();

    [GeneratedRegex(@"[ \u00a0]{2,}|_{2,}", Options)]
    private static partial Regex Doubled();
}
