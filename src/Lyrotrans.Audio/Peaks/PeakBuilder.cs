namespace Lyrotrans.Audio.Peaks;

/// <summary>Makes a peak pyramid as a sound's samples go by, block after block.</summary>
/// <param name="channels">One or more.</param>
/// <param name="frames">Length of the whole sound in samples.</param>
public sealed class PeakBuilder(int channels, long frames)
{
    /// <summary>Samples to be given at a time; the last time fewer.</summary>
    public const int Block = PeakPyramid.FinestStretch * 128;

    private readonly short[] _finest = new short[(int)((frames + PeakPyramid.FinestStretch - 1) / PeakPyramid.FinestStretch) * channels * 2];
    private readonly SoundMeter _meter = new(channels);
    private int _stretch;

    /// <summary>Takes the next samples of all channels.</summary>
    /// <param name="planar">A row for each channel; full scale is 1.</param>
    /// <param name="count">How many of each row.</param>
    public void Take(double[][] planar, int count)
    {
        for (var at = 0; at < count; at += PeakPyramid.FinestStretch, _stretch++)
        {
            var length = Math.Min(PeakPyramid.FinestStretch, count - at);
            for (var c = 0; c < channels; c++)
            {
                var extremes = _meter.Take(c, planar[c].AsSpan(at, length));
                var place = ((_stretch * channels) + c) * 2;
                _finest[place] = Scale(extremes.Low);
                _finest[place + 1] = Scale(extremes.High);
            }

            if (channels > 1)
            {
                _meter.Compare(planar[0].AsSpan(at, length), planar[1].AsSpan(at, length));
            }
        }
    }

    /// <summary>The pyramid of all that was taken.</summary>
    public PeakPyramid Result() => new(channels, frames, Upwards(), _meter.Result(frames));

    private static short Scale(double value) => (short)Math.Clamp(Math.Round(value * 32767), -32767, 32767);

    private short[][] Upwards()
    {
        var levels = new List<short[]> { _finest };
        var pair = channels * 2;
        while (levels[^1].Length > pair * 64)
        {
            var below = levels[^1];
            var count = ((below.Length / pair) + PeakPyramid.Factor - 1) / PeakPyramid.Factor;
            var level = new short[count * pair];
            for (var s = 0; s < count; s++)
            {
                for (var v = 0; v < pair; v++)
                {
                    level[(s * pair) + v] = Extreme(below, (s * PeakPyramid.Factor * pair) + v, pair, v % 2 == 0);
                }
            }

            levels.Add(level);
        }

        return levels.ToArray();
    }

    private static short Extreme(short[] below, int at, int pair, bool least)
    {
        var value = below[at];
        for (var k = 1; k < PeakPyramid.Factor && at + (k * pair) < below.Length; k++)
        {
            value = least ? Math.Min(value, below[at + (k * pair)]) : Math.Max(value, below[at + (k * pair)]);
        }

        return value;
    }
}
