using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace Lyrotrans.Core.Naming;

/// <summary>
/// Text with its marks put together (Unicode's normalisation form C): some systems write <c>é</c> as one character, others as an <c>e</c> and a mark, and
/// both are one name. The runtime's own does nothing where cultures are left out, as they are here.
/// </summary>
public static class Composed
{
    // Hangul syllables are counted, not listed (Unicode, 3.12).
    private const int Syllables = 0xAC00;
    private const int Leads = 0x1100;
    private const int Vowels = 0x1161;
    private const int Trails = 0x11A7;
    private const int VowelCount = 21;
    private const int TrailCount = 28;
    private const int SyllableCount = 19 * VowelCount * TrailCount;
    private const int FirstMark = 0x300;

    private static readonly Lazy<Tables> s_tables = new(Tables.Read);

    /// <summary>The text in form C; lone surrogates become the replacement character.</summary>
    public static string Of(string text)
    {
        if (text.All(c => c < FirstMark))
        {
            return text;
        }

        var parts = new List<int>();
        foreach (var rune in text.EnumerateRunes())
        {
            Take(rune.Value, parts);
        }

        Order(parts);
        return Join(parts);
    }

    /// <summary>The text with its marks fallen off: <c>é</c> is <c>e</c>. Letters without parts stay.</summary>
    public static string WithoutMarks(string text)
    {
        var parts = new List<int>();
        foreach (var rune in text.EnumerateRunes())
        {
            Take(rune.Value, parts);
        }

        return string.Concat(parts.Where(p => Class(p) == 0).Select(p => new Rune(p).ToString()));
    }

    private static void Take(int point, List<int> parts)
    {
        if (point is >= Syllables and < Syllables + SyllableCount)
        {
            var (lead, rest) = Math.DivRem(point - Syllables, VowelCount * TrailCount);
            parts.AddRange([Leads + lead, Vowels + (rest / TrailCount)]);
            if (rest % TrailCount > 0)
            {
                parts.Add(Trails + (rest % TrailCount));
            }
        }
        else if (s_tables.Value.Parts.TryGetValue(point, out var pair))
        {
            Take(pair.First, parts);
            if (pair.Second > 0)
            {
                parts.Add(pair.Second);
            }
        }
        else
        {
            parts.Add(point);
        }
    }

    // Marks of one character by their classes; those of one class keep their order.
    private static void Order(List<int> parts)
    {
        for (var from = 0; from < parts.Count; from++)
        {
            var to = from;
            while (to < parts.Count && Class(parts[to]) > 0)
            {
                to++;
            }

            if (to > from + 1)
            {
                var marks = parts.GetRange(from, to - from).OrderBy(Class).ToList();
                marks.ForEach(m => parts[from++] = m);
            }
        }
    }

    private static string Join(List<int> parts)
    {
        var joined = new List<int>();
        var starter = -1;
        foreach (var part in parts)
        {
            // A mark joins its character unless another of its class, or of none, stands between.
            var blocked = starter >= 0 && starter < joined.Count - 1 && (Class(joined[^1]) == 0 || Class(joined[^1]) >= Class(part));
            if (starter >= 0 && !blocked && Pair(joined[starter], part) is { } one)
            {
                joined[starter] = one;
                continue;
            }

            starter = Class(part) == 0 ? joined.Count : starter;
            joined.Add(part);
        }

        var text = new StringBuilder();
        joined.ForEach(p => text.Append(new Rune(p).ToString()));
        return text.ToString();
    }

    private static int? Pair(int first, int second)
    {
        if (first is >= Leads and < Leads + 19 && second is >= Vowels and < Vowels + VowelCount)
        {
            return Syllables + ((((first - Leads) * VowelCount) + second - Vowels) * TrailCount);
        }

        if (first is >= Syllables and < Syllables + SyllableCount && (first - Syllables) % TrailCount == 0 && second is > Trails and < Trails + TrailCount)
        {
            return first + second - Trails;
        }

        return s_tables.Value.Whole.TryGetValue((first, second), out var one) ? one : null;
    }

    private static int Class(int point) => point < FirstMark ? 0 : s_tables.Value.Classes.GetValueOrDefault(point);

    private sealed record Tables(FrozenDictionary<int, (int First, int Second)> Parts, FrozenDictionary<(int, int), int> Whole, FrozenDictionary<int, int> Classes)
    {
        // compositions.txt says what its lines are.
        public static Tables Read()
        {
            var (parts, whole, classes) = (new Dictionary<int, (int, int)>(), new Dictionary<(int, int), int>(), new Dictionary<int, int>());
            using var reader = new StreamReader(typeof(Composed).Assembly.GetManifestResourceStream("compositions.txt")!);
            while (reader.ReadLine() is { } line)
            {
                var at = line.IndexOfAny(['=', '>', ':', '#']);
                var rest = line[(at + 1)..];
                if (line[at] == ':')
                {
                    var span = line[..at].Split('-');
                    for (var point = Hex(span[0]); point <= Hex(span[^1]); point++)
                    {
                        classes[point] = int.Parse(rest, CultureInfo.InvariantCulture);
                    }
                }
                else if (line[at] != '#')
                {
                    var points = rest.Split(' ');
                    var pair = (Hex(points[0]), points.Length > 1 ? Hex(points[1]) : 0);
                    parts[Hex(line[..at])] = pair;
                    if (line[at] == '=')
                    {
                        whole[pair] = Hex(line[..at]);
                    }
                }
            }

            return new Tables(parts.ToFrozenDictionary(), whole.ToFrozenDictionary(), classes.ToFrozenDictionary());
        }

        private static int Hex(string digits) => int.Parse(digits, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
    }
}
