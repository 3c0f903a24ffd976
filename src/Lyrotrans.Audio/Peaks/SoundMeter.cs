using System.Numerics.Tensors;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Peaks;

/// <summary>
/// Measures a file's sound as its samples go by, stretch after stretch. Only where a stretch's extremes say that there is something to
/// find are its samples looked at one by one.
/// </summary>
public sealed class SoundMeter(int channels)
{
    /// <summary>What is no louder is no sound: −120 dBFS.</summary>
    public const double Silence = 1e-6;

    /// <summary>What a sample reaches that was cut off.</summary>
    public const double FullScale = 1 - (1.0 / 32768);

    /// <summary>So many samples at full scale in a row were cut off.</summary>
    public const int ClippedRun = 3;
    private readonly long[] _at = new long[channels];
    private readonly int[] _run = new int[channels];
    private double[] _difference = [];
    private long _first = long.MaxValue;
    private long _end;
    private double _peak;
    private double _side;
    private int _runs;

    /// <summary>Takes a channel's next samples, one at least, and says their extremes.</summary>
    public Extremes Take(int channel, ReadOnlySpan<double> samples)
    {
        var extremes = Extremes.Of(samples);
        var at = _at[channel];
        _at[channel] += samples.Length;
        _peak = Math.Max(_peak, extremes.Magnitude);
        if (extremes.Magnitude > Silence)
        {
            _first = at < _first ? Math.Min(_first, at + FirstSound(samples)) : _first;
            _end = Math.Max(_end, at + EndOfSound(samples));
        }

        if (extremes.Magnitude >= FullScale)
        {
            CountRuns(channel, samples);
        }
        else
        {
            _run[channel] = 0;
        }

        return extremes;
    }

    /// <summary>Takes the same stretch of the first two channels, to measure how far they differ.</summary>
    public void Compare(ReadOnlySpan<double> left, ReadOnlySpan<double> right)
    {
        _difference = _difference.Length < left.Length ? new double[left.Length] : _difference;
        var difference = _difference.AsSpan(0, left.Length);
        TensorPrimitives.Subtract(left, right, difference);
        _side = Math.Max(_side, Extremes.Of(difference).Magnitude);
    }

    /// <param name="length">Of the whole sound in samples.</param>
    public MediaSound Result(long length) => new(Math.Min(_first, length), _end, _peak, channels > 1 ? Decibels.FromRatio(_side) : null, _runs);

    private static int FirstSound(ReadOnlySpan<double> samples)
    {
        var at = 0;
        while (Math.Abs(samples[at]) <= Silence)
        {
            at++;
        }

        return at;
    }

    private static int EndOfSound(ReadOnlySpan<double> samples)
    {
        var end = samples.Length;
        while (Math.Abs(samples[end - 1]) <= Silence)
        {
            end--;
        }

        return end;
    }

    private void CountRuns(int channel, ReadOnlySpan<double> samples)
    {
        foreach (var sample in samples)
        {
            _run[channel] = Math.Abs(sample) >= FullScale ? _run[channel] + 1 : 0;
            _runs += _run[channel] == ClippedRun ? 1 : 0;
        }
    }
}
