using System.Globalization;
using System.Text;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.MarkerList;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels and loudness of the sound files of a package as delimited text, for people and for other programs.</summary>
/// <remarks>docs/package.md, "Table of levels".</remarks>
public static class LevelTable
{
    /// <summary>As UTF-8 text; the same levels give the same bytes. Silence has the level <c>-Infinity</c>; what was not measured is empty.</summary>
    /// <param name="levels">By the path of each file inside the package's folder, in its order.</param>
    public static byte[] Write(IEnumerable<(string Path, SoundLevels Levels)> levels)
    {
        var text = new StringBuilder(DelimitedText.Line(
            "file", "peak dBFS", "true peak dBTP", "loudness LUFS", "loudness range LU", "DC offset dBFS", "correlation", "difference of channels dBFS", "clipped runs", "first sound samples", "end of sound samples"));
        foreach (var (path, found) in levels)
        {
            text.Append(DelimitedText.Line(
                path, Level(found.PeakDb), Level(found.TruePeakDb), Level(found.Loudness), Level(found.LoudnessRange), Level(found.OffsetDb), Level(found.Correlation), Level(found.SideDb),
                Whole(found.ClippedRuns), Whole(found.FirstSound), Whole(found.EndOfSound)));
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>Where two tables first differ by more than another machine's rounding, in words; null where nowhere.</summary>
    /// <param name="meant">As it is made here.</param>
    /// <param name="found">As it was found.</param>
    public static string? Difference(byte[] meant, byte[] found)
    {
        var (here, there) = (Rows(meant), Rows(found));
        var different = here.Zip(there).FirstOrDefault(p => p.First.Count != p.Second.Count || p.First.Zip(p.Second).Any(c => !Same(c.First, c.Second)));
        return different.First is { } row ? row[0] : here.Count != there.Count ? $"{there.Count - 1} files" : null;
    }

    // A hundredth is the last digit.
    private static bool Same(string meant, string found) => meant == found
        || (double.TryParse(meant, CultureInfo.InvariantCulture, out var a) && double.TryParse(found, CultureInfo.InvariantCulture, out var b) && Math.Abs(a - b) < 0.011);

    private static List<IReadOnlyList<string>> Rows(byte[] table) => [.. DelimitedText.Read(Encoding.UTF8.GetString(table)).Select(r => r.Cells)];

    private static string Level(double? level) => level switch
    {
        null => string.Empty,
        double.NegativeInfinity => "-Infinity",
        { } value => value.ToString("0.00", CultureInfo.InvariantCulture),
    };

    private static string Whole(long value) => value.ToString(CultureInfo.InvariantCulture);
}
