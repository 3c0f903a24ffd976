using System.Numerics.Tensors;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Faults;

/// <summary>Finds what is wrong with a sound's samples as they go by: clicks, dropouts, a DC offset, channels without sound.</summary>
public sealed class FaultFinder
{
    private readonly double[][] _waiting;
    private readonly double[] _sums;
    private readonly double[] _peaks;
    private readonly ClickFinder[] _clicks;
    private readonly DropoutFinder[] _dropouts;
    private readonly long _near;
    private int _filled;
    private long _length;

    /// <param name="channels">One or more.</param>
    /// <param name="rate">For what lies near, and how long a fault lasts.</param>
    public FaultFinder(int channels, SampleRate rate)
    {
        _waiting = [.. Enumerable.Range(0, channels).Select(_ => new double[ClickFinder.Stretch])];
        (_sums, _peaks) = (new double[channels], new double[channels]);
        _clicks = [.. Enumerable.Range(0, channels).Select(c => new ClickFinder(c, rate))];
        _dropouts = [.. Enumerable.Range(0, channels).Select(c => new DropoutFinder(c, rate))];
        _near = (long)(rate.PerSecond.ToDouble() / 1000);
    }

    /// <summary>Takes the next samples of all channels.</summary>
    /// <param name="planar">A row for each channel; full scale is 1.</param>
    /// <param name="count">How many of each row.</param>
    public void Take(double[][] planar, int count)
    {
        _length += count;
        for (var taken = 0; taken < count;)
        {
            var piece = Math.Min(count - taken, ClickFinder.Stretch - _filled);
            for (var c = 0; c < _waiting.Length; c++)
            {
                planar[c].AsSpan(taken, piece).CopyTo(_waiting[c].AsSpan(_filled));
            }

            taken += piece;
            _filled += piece;
            if (_filled == ClickFinder.Stretch)
            {
                Pass();
            }
        }
    }

    /// <summary>Of all that was taken.</summary>
    public SoundFaults Result()
    {
        if (_filled > 0)
        {
            Array.ForEach(_waiting, w => w.AsSpan(_filled).Clear());
            Pass();
        }

        var faults = Enumerable.Range(0, _waiting.Length).SelectMany(Faults).OrderBy(f => f.Sample).ThenBy(f => f.Channel).ToList();
        var silent = Enumerable.Range(0, _peaks.Length).Where(c => _peaks[c] <= SoundMeter.Silence).ToList();
        return new SoundFaults(
            Decibels.FromRatio(_sums.Max(Math.Abs) / Math.Max(1, _length)), silent.Count < _peaks.Length ? silent : [], [.. faults.Take(SoundFaults.MostFaults)], faults.Count);
    }

    // The edges of a dropout are no clicks of their own, nor is where the sound itself begins or ends.
    private IEnumerable<SoundFault> Faults(int channel)
    {
        var dropouts = _dropouts[channel].Result().ToList();
        var clicks = _clicks[channel].Result().Where(c => c.Sample >= _near && c.Sample < _length - _near && !dropouts.Any(d => c.Sample >= d.Sample - _near && c.Sample <= d.Sample + d.Length + _near));
        return dropouts.Concat(clicks);
    }

    private void Pass()
    {
        for (var c = 0; c < _waiting.Length; c++)
        {
            var samples = _waiting[c];
            _sums[c] += TensorPrimitives.Sum<double>(samples);
            _peaks[c] = Math.Max(_peaks[c], Extremes.Of(samples).Magnitude);

            _clicks[c].Take(samples);
            _dropouts[c].Take(samples);
        }

        _filled = 0;
    }
}
