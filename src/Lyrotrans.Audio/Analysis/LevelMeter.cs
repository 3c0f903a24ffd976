using System.Numerics.Tensors;
using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Analysis;

/// <summary>Measures how loud a sound is, and how its channels lie to each other, as its samples go by; loudness by libebur128. Loudness weighs
/// channels by where their speakers stand (ITU-R BS.1770-5, annex 1, table 3), and of more than two nothing says which is which: then it is not measured.</summary>
public sealed class LevelMeter : IDisposable
{
    private const int MostKnown = 2;
    private readonly int _channels;
    private readonly double[] _sums;
    private readonly TruePeakMeter[] _peaks;
    private double[] _frames = [];
    private nint _state;
    private double _xy;
    private double _xx;
    private double _yy;
    private long _count;

    /// <param name="channels">One or more.</param>
    /// <param name="rate">For the filters of loudness.</param>
    public LevelMeter(int channels, SampleRate rate)
    {
        _channels = channels;
        _sums = new double[channels];
        _peaks = [.. Enumerable.Range(0, channels).Select(_ => new TruePeakMeter())];
        _state = channels > MostKnown ? 0 : NativeCall.Of("libebur128", Ebur128.Package, () => Ebur128.Init((uint)channels, (nuint)rate.HeaderHz, Ebur128.Loudnesses));
    }

    /// <summary>Takes the next samples of all channels.</summary>
    /// <param name="planar">A row for each channel; full scale is 1.</param>
    /// <param name="count">How many of each row.</param>
    public void Take(double[][] planar, int count)
    {
        _count += count;
        for (var c = 0; c < _channels; c++)
        {
            var samples = planar[c].AsSpan(0, count);
            _sums[c] += TensorPrimitives.Sum<double>(samples);
            _peaks[c].Take(samples);
        }

        if (_channels > 1)
        {
            Pair(planar[0].AsSpan(0, count), planar[1].AsSpan(0, count));
        }

        if (_state != 0)
        {
            _ = Ebur128.Add(_state, Interleaved(planar, count), (nuint)count);
        }
    }

    /// <param name="sound">What was measured of the same samples beside this.</param>
    public SoundLevels Result(MediaSound sound)
    {
        var (lufs, range) = Loudness();

        foreach (var peak in _peaks)
        {
            peak.End();
        }

        var offset = _sums.Max(s => Math.Abs(s)) / Math.Max(1, _count);
        return new SoundLevels(
            Decibels.FromRatio(sound.Peak), Decibels.FromRatio(_peaks.Max(p => p.Peak)), lufs, range, Decibels.FromRatio(offset), _channels > 1 && _xx > 0 && _yy > 0 ? _xy / Math.Sqrt(_xx * _yy) : null,
            sound.SideDb, sound.ClippedRuns, sound.FirstSound, sound.EndOfSound);
    }

    private (double? Lufs, double? Range) Loudness()
    {
        if (_state == 0)
        {
            return (null, null);
        }

        _ = Ebur128.Loudness(_state, out var lufs);
        _ = Ebur128.Range(_state, out var range);
        return (lufs, range);
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
        _xy += TensorPrimitives.Dot(left, right);
        _xx += TensorPrimitives.Dot(left, left);
        _yy += TensorPrimitives.Dot(right, right);
    }

    private ReadOnlySpan<double> Interleaved(double[][] planar, int count)
    {
        if (_channels == 1)
        {
            return planar[0].AsSpan(0, count);
        }

        _frames = _frames.Length < count * _channels ? new double[count * _channels] : _frames;
        for (var c = 0; c < _channels; c++)
        {
            for (var i = 0; i < count; i++)
            {
                _frames[(i * _channels) + c] = planar[c][i];
            }
        }

        return _frames.AsSpan(0, count * _channels);
    }
}
