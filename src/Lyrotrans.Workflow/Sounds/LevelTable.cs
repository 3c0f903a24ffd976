using System.Globalization;
using System.Text;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.MarkerList;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels and loudness of the sound files of a package as delimited text, for people and for other programs.</summary>
/// <remarks>docs/package.md, "Table of levels".</remarks>
public static class LevelTable
{
    // Half of the last digit, and what another machine's arithmetic may add.
    private const double Rounding = 0.005 + 1e-5;

    private static readonly string[] s_head =
    [
        "file", "peak dBFS", "true peak dBTP", "loudness LUFS", "loudness range LU", "DC offset dBFS", "correlation", "difference of channels dBFS", "clipped runs", "first sound samples", "end of sound samples",
    ];

    /// <summary>As UTF-8 text; the same levels give the same bytes. Silence has the level <c>-Infinity</c>; what was not measured is empty.</summary>
    /// <param name="levels">By the path of each file inside the package's folder, in its order.</param>
    public static byte[] Write(IEnumerable<(string Path, SoundLevels Levels)> levels) =>
        Encoding.UTF8.GetBytes(string.Concat(levels.Select(l => DelimitedText.Line(Row(l.Path, l.Levels).Select(c => c.Text))).Prepend(DelimitedText.Line(s_head))));

    /// <summary>Where a table first says something else than levels that were measured here, in words; null where nowhere. A number may be rounded by another machine.</summary>
    /// <param name="levels">As they were measured here, by the path of each file inside the package's folder, in its order.</param>
    /// <param name="found">The table.</param>
    public static string? Difference(IEnumerable<(string Path, SoundLevels Levels)> levels, byte[] found)
    {
        var here = levels.Select(l => Row(l.Path, l.Levels)).Prepend([.. s_head.Select(h => (h, (double?)null))]).ToList();
        var there = DelimitedText.Read(Encoding.UTF8.GetString(found)).Select(r => r.Cells).ToList();
        var different = here.Zip(there).FirstOrDefault(p => p.First.Count != p.Second.Count || p.First.Zip(p.Second).Any(c => !Same(c.First, c.Second)));
        return different.First is { } row ? row[0].Text : here.Count != there.Count ? $"{there.Count - 1} files" : null;
    }

    private static bool Same((string Text, double? Exact) meant, string found) => meant.Text == found
        || (meant.Exact is { } exact && double.TryParse(found, CultureInfo.InvariantCulture, out var said) && found == Text(said) && Math.Abs(exact - said) <= Rounding);

    private static List<(string Text, double? Exact)> Row(string path, SoundLevels found) =>
    [
        (path, null), .. new[] { found.PeakDb, found.TruePeakDb, found.Loudness, found.LoudnessRange, found.OffsetDb, found.Correlation, found.SideDb }.Select(l => (Text(l), l)),
        .. new[] { found.ClippedRuns, found.FirstSound, found.EndOfSound }.Select(n => (n.ToString(CultureInfo.InvariantCulture), (double?)null)),
    ];

    private static string Text(double? level) => level switch
    {
        null => string.Empty,
        double.NegativeInfinity => "-Infinity",
        { } value => value.ToString("0.00", CultureInfo.InvariantCulture),
    };
}
