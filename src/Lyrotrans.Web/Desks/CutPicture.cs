using System.Globalization;
using System.Text;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Cutting;

namespace Lyrotrans.Web.Desks;

/// <summary>A track from zero on the timeline: its level over time on a scale in dB, so that what is quiet is seen, and what of it stays.</summary>
/// <param name="track">What is drawn.</param>
/// <param name="end">The last session sample of the picture.</param>
/// <param name="rate">The session's.</param>
/// <param name="peaks">Its levels; none draws only what stays.</param>
public sealed class CutPicture(CutTrack track, long end, SampleRate rate, PeakPyramid? peaks)
{
    /// <summary>The size of the drawing.</summary>
    public const int Width = 640, Height = 34;

    private const double LowestDb = -96;

    /// <summary>Left edge and width of each clip that would stay.</summary>
    public IEnumerable<(string X, string Width)> Kept => track.Pieces.Select(p => (Text(At(p.Start)), Text(Math.Max(0.5, At(p.End) - At(p.Start)))));

    /// <summary>Where the threshold lies; null for digital silence.</summary>
    public string? Threshold => track.Cut.Rule.ThresholdDb is { } db ? Text(Height - Tall(Decibels.ToRatio(db))) : null;

    /// <summary>The highest level of each column, as a path from the bottom up.</summary>
    public string Levels
    {
        get
        {
            var path = new StringBuilder();
            foreach (var (level, x) in Columns().Select((level, x) => (level, x)).Where(c => c.level > 0))
            {
                path.Append(CultureInfo.InvariantCulture, $"M{x}.5 {Height}V{Height - Tall(level / (double)short.MaxValue):0.#}");
            }

            return path.ToString();
        }
    }

    private static double Tall(double ratio) => Math.Clamp(1 - (Decibels.FromRatio(ratio) / LowestDb), 0, 1) * Height;

    private static string Text(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);

    private double At(long sample) => end <= 0 ? 0 : Math.Clamp((double)sample / end, 0, 1) * Width;

    private int[] Columns()
    {
        var columns = new int[Width];
        if (peaks is null || end <= 0)
        {
            return columns;
        }

        var pairs = peaks.Channels * 2;
        var level = Enumerable.Range(0, peaks.Levels).LastOrDefault(l => peaks.Level(l).Length / pairs >= Width);
        var values = peaks.Level(level);

        // Frames of the medium before the clip begins are not on the timeline.
        var first = track.Whole.Start - track.Medium.Rate.Convert(track.Whole.SourceOffset, rate);
        for (var i = 0; i < values.Length / pairs; i++)
        {
            var at = first + track.Medium.Rate.Convert(i * PeakPyramid.StretchOf(level), rate);
            var column = (int)At(at);
            if (at < track.Whole.Start || at >= track.Whole.End || column >= Width)
            {
                continue;
            }

            foreach (var value in values.Slice(i * pairs, pairs))
            {
                columns[column] = Math.Max(columns[column], Math.Abs((int)value));
            }
        }

        return columns;
    }
}
