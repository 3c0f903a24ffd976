using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Analysis;

/// <summary>Everything that is measured of a sound, in one reading of it.</summary>
public static class SoundAnalysis
{
    /// <summary>Reads a source once, to its end, for both.</summary>
    /// <param name="source">What is measured.</param>
    /// <param name="stop">Stops it between two blocks.</param>
    public static (PeakPyramid Peaks, SoundLevels Levels) Measure(ISampleSource source, CancellationToken stop)
    {
        var peaks = new PeakBuilder(source.Channels, source.Length);
        using var meter = new LevelMeter(source.Channels, source.Rate);
        source.Each(
            PeakBuilder.Block,
            (planar, count) =>
            {
                peaks.Take(planar, count);
                meter.Take(planar, count);
            },
            stop);
        var pyramid = peaks.Result();
        return (pyramid, meter.Result(pyramid.Sound));
    }
}
