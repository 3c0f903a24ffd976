using System.Buffers;
using System.Text;

namespace Lyrotrans.Formats.MarkerList;

/// <summary>Reads and writes delimited text (RFC 4180); comma, semicolon or tab, whichever the first line has most of.</summary>
/// <remarks>docs/formats/marker-list.md, section 1.</remarks>
public static class DelimitedText
{
    private static readonly SearchValues<char> s_special = SearchValues.Create("\",;\t\r\n");

    // What a table program would take for a formula.
    private static readonly SearchValues<char> s_formula = SearchValues.Create("=+-@\t\r");

    /// <summary>Rows with the line each begins on, from 1. A quote that never ends takes the rest of the text.</summary>
    public static IEnumerable<(int Line, IReadOnlyList<string> Cells)> Read(string text)
    {
        var separator = Separator(text);
        var cells = new List<string>();
        var cell = new StringBuilder();
        var (quoted, line, begun) = (false, 1, 1);
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            line += c == '\n' ? 1 : 0;
            if (quoted)
            {
                if (c != '"')
                {
                    cell.Append(c);
                }
                else if (i + 1 < text.Length && text[i + 1] == '"')
                {
                    cell.Append(text[++i]);
                }
                else
                {
                    quoted = false;
                }
            }
            else if (c == '"' && cell.Length == 0)
            {
                quoted = true;
            }
            else if (c == separator)
            {
                cells.Add(Taken(cell));
            }
            else if (c == '\n')
            {
                cells.Add(Taken(cell));
                yield return (begun, cells);
                (cells, begun) = ([], line);
            }
            else if (c != '\r')
            {
                cell.Append(c);
            }
        }

        if (cell.Length > 0 || cells.Count > 0)
        {
            cells.Add(Taken(cell));
            yield return (begun, cells);
        }
    }

    /// <summary>A line of cells, quoted where they must be, with its end. A text that a table program would take for a formula has an apostrophe before it, which reading takes off.</summary>
    public static string Line(params IEnumerable<string> cells) => string.Join(',', cells.Select(c => Quoted(IsFormula(c) ? "'" + c : c))) + "\r\n";

    // With apostrophes before it as well, so that what is put before it can be told from its own.
    private static bool IsFormula(string cell) => cell.AsSpan().TrimStart('\'') is { Length: > 0 } rest && s_formula.Contains(rest[0])
        && !double.TryParse(cell, System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out _);

    private static string Quoted(string cell) => cell.AsSpan().ContainsAny(s_special) ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : cell;

    private static string Taken(StringBuilder cell)
    {
        var text = cell.ToString();
        cell.Clear();
        return text.StartsWith('\'') && IsFormula(text) ? text[1..] : text;
    }

    private static char Separator(string text)
    {
        var first = text.AsSpan(0, text.IndexOf('\n', StringComparison.Ordinal) is >= 0 and var end ? end : text.Length);
        var best = ',';
        var most = 0;
        foreach (var candidate in ",;\t")
        {
            var count = first.Count(candidate);
            (best, most) = count > most ? (candidate, count) : (best, most);
        }

        return best;
    }
}
