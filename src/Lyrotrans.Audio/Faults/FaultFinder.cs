using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Faults;

/// <summary>Finds what is wrong with a sound's samples as they go by: clicks, dropouts, channels without sound.</summary>
public sealed class FaultFinder
{
    private readonly double[][] _waiting;
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
        _peaks = new double[channels];
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
        return new SoundFaults(silent.Count < _peaks.Length ? silent : [], [.. faults.Take(SoundFaults.MostFaults)], faults.Count);
    }

    // The edges of a dropout are no clicks of their own, nor is where the sound itself begins or ends.
    private IEnumerable<SoundFault> Faults(int channel)
    {
        var (dropouts, next) = (_dropouts[channel].Result().ToList(), 0);
        foreach (var click in _clicks[channel].Result().Where(c => c.Sample >= _near && c.Sample < _length - _near))
        {
            // Both ascend, and dropouts do not lie over each other.
            while (next < dropouts.Count && dropouts[next].Sample + dropouts[next].Length + _near < click.Sample)
            {
                next++;
            }

            if (next == dropouts.Count || click.Sample < dropouts[next].Sample - _near)
            {
                yield return click;
            }
        }

        foreach (var dropout in dropouts)
        {
            yield return dropout;
        }
    }

    private void Pass()
    {
        for (var c = 0; c < _waiting.Length; c++)
        {
            var samples = _waiting[c];
            _peaks[c] = Math.Max(_peaks[c], Extremes.Of(samples).Magnitude);
            _clicks[c].Take(samples);
            _dropouts[c].Take(samples);
        }

        _filled = 0;
    }
}
