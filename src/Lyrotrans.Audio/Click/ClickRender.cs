using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Click;

/// <summary>
/// The sound of a click, mono: each begins at its full level on the very sample of its beat, so that its place can be read off
/// the file. Two short falling tones, the accents' a fifth above the beat's; silence before the next one always.
/// </summary>
public sealed class ClickRender
{
    private const double AccentHz = 1760;
    private const double BeatHz = 1173.3;
    private const double LengthSeconds = 0.03;
    private const double FallSeconds = 0.004;
    private readonly IReadOnlyList<ClickBeat> _beats;
    private readonly SampleRange _range;
    private readonly double _level;
    private readonly double _rate;
    private readonly long _length;

    /// <param name="beats">Ascending, within the range.</param>
    /// <param name="range">The file's span in session samples.</param>
    /// <param name="levelDb">Peak of a bar's first beat in dBFS.</param>
    /// <param name="rate">The session's.</param>
    public ClickRender(IReadOnlyList<ClickBeat> beats, SampleRange range, double levelDb, SampleRate rate)
    {
        _beats = beats;
        _range = range;
        _level = Decibels.ToRatio(levelDb);
        _rate = rate.PerSecond.ToDouble();
        _length = (long)(LengthSeconds * _rate);
        Quiet = (int)(_rate / 500);
    }

    /// <summary>Samples of silence that are kept before every click (2 ms).</summary>
    public int Quiet { get; }

    /// <summary>The level at which the quietest click begins.</summary>
    public double Quietest => _level * Ratio(ClickStrength.Beat);

    /// <summary>Fills a block from frame <paramref name="at"/> of the file on.</summary>
    public void Read(long at, int count, double[] into)
    {
        into.AsSpan(0, count).Clear();
        var from = _range.Start + at;
        for (var i = FirstEndingAfter(from); i < _beats.Count && _beats[i].Sample < from + count; i++)
        {
            var next = i + 1 < _beats.Count ? _beats[i + 1].Sample : long.MaxValue;
            var length = Math.Min(_length, Math.Max(1, next - Quiet - _beats[i].Sample));
            var start = _beats[i].Sample - from;
            for (var n = Math.Max(0, -start); n < length && start + n < count; n++)
            {
                into[start + n] = Sample(_beats[i].Strength, n, length);
            }
        }
    }

    private double Sample(ClickStrength strength, long n, long length)
    {
        var seconds = n / _rate;
        var hz = strength == ClickStrength.Beat ? BeatHz : AccentHz;
        var tail = 1 - ((double)n / length);
        return _level * Ratio(strength) * Math.Cos(2 * Math.PI * hz * seconds) * Math.Exp(-seconds / FallSeconds) * tail;
    }

    private static double Ratio(ClickStrength strength) => strength switch
    {
        ClickStrength.Bar => 1,
        ClickStrength.Group => Decibels.ToRatio(-3),
        _ => Decibels.ToRatio(-6),
    };

    private int FirstEndingAfter(long sample)
    {
        var (low, high) = (0, _beats.Count);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_beats[middle].Sample + _length <= sample)
            {
                low = middle + 1;
            }
            else
            {
                high = middle;
            }
        }

        return low;
    }
}
