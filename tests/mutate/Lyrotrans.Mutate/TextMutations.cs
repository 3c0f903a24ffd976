using System.Text;

namespace Lyrotrans.Mutate;

/// <summary>What can be changed in lines of text.</summary>
internal static class TextMutations
{
    public static IEnumerable<Mutation> Of(string path, byte[] text)
    {
        var lines = Encoding.UTF8.GetString(text).Split('\n');
        Mutation File(string how, IEnumerable<string> changed) => new($"{Path.GetFileName(path)}: {how}", p => p.With(path, Encoding.UTF8.GetBytes(string.Join('\n', changed))).Settled().Zip());
        for (var i = 0; i < Math.Min(lines.Length, 12); i++)
        {
            var at = i;
            yield return File($"line {i + 1} left out", lines.Where((_, n) => n != at));
            yield return File($"line {i + 1} twice", lines.SelectMany((l, n) => n == at ? [l, l] : new[] { l }));
            foreach (var (cell, k) in lines[i].Split(',').Select((c, k) => (c, k)).Take(8))
            {
                yield return File($"line {i + 1}, cell {k + 1} changed", lines.Select((l, n) => n != at ? l : string.Join(',', l.Split(',').Select((c, m) => m == k ? Other(cell) : c))));
            }
        }

        yield return File("other ends of lines", [string.Join("\r\n", lines)]);
        yield return File("a line more", [.. lines, "# more"]);
    }

    private static string Other(string cell)
    {
        var digit = cell.AsSpan().IndexOfAnyInRange('0', '9');
        return digit < 0 ? cell + "x" : string.Concat(cell.AsSpan(0, digit), cell[digit] == '1' ? "2" : "1", cell.AsSpan(digit + 1));
    }
}
