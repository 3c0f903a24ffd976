using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Analysis;

/// <summary>Everything that is measured of a sound, as its samples go by.</summary>
public sealed class SoundMeasure : IDisposable
{
    private readonly PeakBuilder _peaks;
    private readonly LevelMeter _meter;

    /// <param name="channels">One or more.</param>
    /// <param name="frames">Length of the whole sound in samples.</param>
    /// <param name="rate">For the filters of loudness.</param>
    public SoundMeasure(int channels, long frames, SampleRate rate)
    {
        _peaks = new PeakBuilder(channels, frames);
        _meter = new LevelMeter(channels, rate);
    }

    /// <summary>Takes the next samples of all channels: whole stretches (<see cref="PeakPyramid.FinestStretch"/>) but for the last.</summary>
    /// <param name="planar">A row for each channel; full scale is 1.</param>
    /// <param name="count">How many of each row.</param>
    public void Take(double[][] planar, int count)
    {
        _peaks.Take(planar, count);
        _meter.Take(planar, count);
    }

    /// <summary>Of all that was taken.</summary>
    public (PeakPyramid Peaks, SoundLevels Levels) Result()
    {
        var pyramid = _peaks.Result();
        return (pyramid, _meter.Result(pyramid.Sound));
    }

    public void Dispose() => _meter.Dispose();
}
