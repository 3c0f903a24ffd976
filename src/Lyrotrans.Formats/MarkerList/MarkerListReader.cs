using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.MarkerList;

/// <summary>
/// Reads marker lists: delimited text whose first row names its columns. <c>text</c> (or <c>name</c>, <c>marker</c>) and a start are needed;
/// <c>start samples</c>, <c>start timecode</c>, <c>start bars</c>, <c>start seconds</c>, the same with <c>end</c>, and the bare kinds
/// (<c>samples</c>, <c>timecode</c> …) for a start. Where a row has several, samples go before timecode, bars and seconds. <c>by</c> (or <c>author</c>,
/// <c>user</c>) and <c>date</c> say who set a marker and when.
/// </summary>
/// <remarks>docs/formats/marker-list.md, section 2.</remarks>
public static class MarkerListReader
{
    private const int LargestFile = 16 << 20;
    private const int MostRows = 200_000;
    private static readonly string[] s_kinds = ["samples", "timecode", "bars", "seconds"];
    private static readonly string[] s_texts = ["text", "name", "marker"];
    private static readonly string[] s_by = ["by", "author", "user"];
    private static readonly string[] s_date = ["date"];

    /// <summary>Whether a first line names the columns of a marker list.</summary>
    public static bool IsHead(string firstLine)
    {
        var head = Head(firstLine);
        return head.Any(s_texts.Contains) && HasPlace(head);
    }

    private static bool HasPlace(IReadOnlyCollection<string> head) => s_kinds.Any(k => head.Contains($"start {k}") || head.Contains(k));

    /// <exception cref="BadInputException">Too large, or no marker list.</exception>
    public static IReadOnlyList<MarkerRow> Read(Stream stream, string file)
    {
        if (stream.Length > LargestFile)
        {
            throw new BadInputException(FileCodes.TooLarge, file, string.Empty, $"It is {stream.Length} bytes, more than any marker list.", "Check what it is.");
        }

        var bytes = new byte[stream.Length];
        stream.Position = 0;
        stream.ReadExactly(bytes);
        var rows = DelimitedText.Read(TextGuess.Decode(bytes).TrimStart('\uFEFF')).Take(MostRows + 1).ToList();
        if (rows.Count > MostRows)
        {
            throw new BadInputException(FileCodes.TooLarge, file, $"line {rows[^1].Line}", $"It has more than {MostRows} rows, more than any marker list.", "Check what it is.");
        }

        var head = rows.Count > 0 ? rows[0].Cells.Select(ColumnKey).ToList() : [];
        var text = head.FindIndex(s_texts.Contains);
        if (text < 0)
        {
            throw new BadInputException(MarkerListCodes.NoTextColumn, file, "line 1", "No column is called text.", "Name the columns in the first row: text, start samples or start timecode, end samples …");
        }

        if (!HasPlace(head))
        {
            throw new BadInputException(MarkerListCodes.NoPlaceColumn, file, "line 1", "No column says where a marker lies.", "Name one of start samples, start timecode, start bars or start seconds in the first row.");
        }

        return rows.Skip(1).Where(r => r.Cells.Any(c => c.Trim().Length > 0)).Select(r => Row(r.Line, r.Cells, head, text)).ToList();
    }

    private static MarkerRow Row(int line, IReadOnlyList<string> cells, List<string> head, int text) => new(
        line, Cell(cells, text),
        Place("start", cells, head) ?? Place(string.Empty, cells, head) ?? new MarkerPlace("samples", string.Empty), Place("end", cells, head),
        Cell(cells, head.FindIndex(s_by.Contains)), Cell(cells, head.FindIndex(s_date.Contains)));

    private static string Cell(IReadOnlyList<string> cells, int column) => column >= 0 && column < cells.Count ? cells[column].Trim() : string.Empty;

    private static MarkerPlace? Place(string which, IReadOnlyList<string> cells, List<string> head)
    {
        foreach (var kind in s_kinds)
        {
            var column = head.IndexOf($"{which} {kind}".Trim());
            if (Cell(cells, column) is { Length: > 0 } text)
            {
                return new MarkerPlace(kind, text);
            }
        }

        return null;
    }

    private static List<string> Head(string firstLine) => DelimitedText.Read(firstLine.TrimStart('\uFEFF')).FirstOrDefault().Cells?.Select(ColumnKey).ToList() ?? [];

    private static string ColumnKey(string cell) => cell.Trim().ToLowerInvariant();
}
