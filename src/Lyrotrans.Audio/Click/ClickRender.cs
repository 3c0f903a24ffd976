using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Click;

/// <summary>
/// The sound of a click, mono: each begins at its full level on the very sample of its beat, so that its place can be read off
/// the file. The accents have one sound, beats and their parts another (<see cref="ClickTimbre"/>); silence before the next one always.
/// </summary>
public sealed class ClickRender
{
    private readonly IReadOnlyList<ClickBeat> _beats;
    private readonly SampleRange _range;
    private readonly double _level;
    private readonly double _rate;
    private readonly long _length;
    private readonly ClickTimbre _accent;
    private readonly ClickTimbre _beat;

    /// <param name="beats">Ascending, within the range.</param>
    /// <param name="range">The file's span in session samples.</param>
    /// <param name="levelDb">Peak of a bar's first beat in dBFS.</param>
    /// <param name="rate">The session's.</param>
    /// <param name="voice">What it sounds like.</param>
    public ClickRender(IReadOnlyList<ClickBeat> beats, SampleRange range, double levelDb, SampleRate rate, ClickVoice voice = ClickVoice.Tones)
    {
        _beats = beats;
        _range = range;
        _level = Decibels.ToRatio(levelDb);
        _rate = rate.PerSecond.ToDouble();
        (_accent, _beat) = (ClickTimbre.Of(voice, accent: true).At(_rate), ClickTimbre.Of(voice, accent: false).At(_rate));
        _length = (long)(_accent.Seconds * _rate);
        Quiet = (int)(_rate / 500);
    }

    /// <summary>Samples of silence that are kept before every click (2 ms).</summary>
    public int Quiet { get; }

    /// <summary>The level at which the quietest click begins.</summary>
    public double Quietest => _level * Ratio(_beats.Any(b => b.Strength == ClickStrength.Part) ? ClickStrength.Part : ClickStrength.Beat);

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
        var timbre = strength is ClickStrength.Beat or ClickStrength.Part ? _beat : _accent;
        return timbre.Sample(_level * Ratio(strength), n / _rate, 1 - ((double)n / length));
    }

    private static double Ratio(ClickStrength strength) => strength switch
    {
        ClickStrength.Bar => 1,
        ClickStrength.Group => Decibels.ToRatio(-3),
        ClickStrength.Beat => Decibels.ToRatio(-6),
        _ => Decibels.ToRatio(-12),
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
