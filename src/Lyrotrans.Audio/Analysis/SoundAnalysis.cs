using Lyrotrans.Audio.Faults;
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
    /// <param name="faults">Looks for faults on the way; none where nobody asks for them.</param>
    public static (PeakPyramid Peaks, SoundLevels Levels) Measure(ISampleSource source, CancellationToken stop, FaultFinder? faults = null)
    {
        using var measure = new SoundMeasure(source.Channels, source.Length, source.Rate);
        source.Each(PeakBuilder.Block, Take, stop);
        return measure.Result();

        void Take(double[][] planar, int count)
        {
            measure.Take(planar, count);
            faults?.Take(planar, count);
        }
    }
}
