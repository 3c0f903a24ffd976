using Lyrotrans.Audio.Native;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Analysis;

/// <summary>Measures a sound as its samples go by, block after block; loudness and true peak by libebur128.</summary>
public sealed class LevelMeter : IDisposable
{
    private readonly int _channels;
    private readonly SoundMeter _meter;
    private readonly double[] _sums;
    private double[] _frames = [];
    private nint _state;
    private double _peak;
    private double _side;
    private double _xy;
    private double _xx;
    private double _yy;
    private long _count;

    /// <param name="channels">One or more.</param>
    /// <param name="rate">For the filters of loudness.</param>
    public LevelMeter(int channels, SampleRate rate)
    {
        _channels = channels;
        _meter = new SoundMeter(channels);
        _sums = new double[channels];
        _state = NativeCall.Of("libebur128", Ebur128.Package, () => Ebur128.Init((uint)channels, (nuint)rate.HeaderHz, Ebur128.Everything));
    }

    public void Take(double[][] planar, int count)
    {
        _meter.Take(planar, count);
        _count += count;
        if (_frames.Length < count * _channels)
        {
            _frames = new double[count * _channels];
        }

        for (var c = 0; c < _channels; c++)
        {
            var samples = planar[c].AsSpan(0, count);
            for (var i = 0; i < samples.Length; i++)
            {
                _sums[c] += samples[i];
                _peak = Math.Max(_peak, Math.Abs(samples[i]));
                _frames[(i * _channels) + c] = samples[i];
            }
        }

        if (_channels > 1)
        {
            Pair(planar[0].AsSpan(0, count), planar[1].AsSpan(0, count));
        }

        if (_state != 0)
        {
            _ = Ebur128.Add(_state, _frames.AsSpan(0, count * _channels), (nuint)count);
        }
    }

    public SoundLevels Result()
    {
        var sound = _meter.Result(_count);
        var (lufs, range, truePeak) = (double.NegativeInfinity, 0.0, _peak);
        if (_state != 0)
        {
            _ = Ebur128.Loudness(_state, out lufs);
            _ = Ebur128.Range(_state, out range);
            for (var c = 0; c < _channels; c++)
            {
                truePeak = Ebur128.TruePeak(_state, (uint)c, out var peak) == 0 ? Math.Max(truePeak, peak) : truePeak;
            }
        }

        var offset = _sums.Max(s => Math.Abs(s)) / Math.Max(1, _count);
        return new SoundLevels(
            Decibels.FromRatio(_peak), Decibels.FromRatio(truePeak), lufs, range, Decibels.FromRatio(offset), _channels > 1 && _xx > 0 && _yy > 0 ? _xy / Math.Sqrt(_xx * _yy) : null,
            _channels > 1 ? Decibels.FromRatio(_side) : null, sound.ClippedRuns, sound.FirstSound, sound.EndOfSound);
    }

    public void Dispose()
    {
        if (_state != 0)
        {
            Ebur128.Destroy(ref _state);
        }
    }

    private void Pair(ReadOnlySpan<double> left, ReadOnlySpan<double> right)
    {
        for (var i = 0; i < left.Length; i++)
        {
            _xy += left[i] * right[i];
            _xx += left[i] * left[i];
            _yy += right[i] * right[i];
            _side = Math.Max(_side, Math.Abs(left[i] - right[i]));
        }
    }
}
