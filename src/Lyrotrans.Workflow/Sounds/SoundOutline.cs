using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Sources;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>How a sound looks from afar: for each of some columns of equal width the lowest and highest sample of any channel.</summary>
public static class SoundOutline
{
    /// <summary>So many columns.</summary>
    public const int Columns = 480;

    /// <summary>Reads the whole sound once.</summary>
    /// <returns>For each column two bytes: the magnitude of the lowest and of the highest sample, 0 to 255 of full scale. Louder ones count as full scale.</returns>
    public static byte[] Of(ISampleSource source, CancellationToken stop)
    {
        var pyramid = PeakPyramid.Measure(source, stop);
        var pairs = pyramid.Level(0);
        var channels = pyramid.Channels;
        var stretches = (pyramid.Frames + PeakPyramid.FinestStretch - 1) / PeakPyramid.FinestStretch;
        var result = new byte[2 * Columns];
        for (var column = 0; column < Columns && stretches > 0; column++)
        {
            var from = column * stretches / Columns;
            var to = Math.Max(from + 1, (column + 1) * stretches / Columns);
            var (low, high) = (0, 0);
            for (var i = from * channels * 2; i < to * channels * 2; i += 2)
            {
                (low, high) = (Math.Min(low, pairs[(int)i]), Math.Max(high, pairs[(int)i + 1]));
            }

            (result[2 * column], result[(2 * column) + 1]) = (Byte(-low), Byte(high));
        }

        return result;
    }

    private static byte Byte(int magnitude) => (byte)Math.Min(255, magnitude * 255 / short.MaxValue);
}
