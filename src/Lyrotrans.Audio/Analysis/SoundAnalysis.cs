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
        using var measure = new SoundMeasure(source.Channels, source.Length, source.Rate);
        source.Each(PeakBuilder.Block, measure.Take, stop);
        return measure.Result();
    }
}
