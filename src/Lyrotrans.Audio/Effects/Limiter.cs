using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Effects;

/// <summary>
/// Lets no sample above a ceiling. The gain that each sample needs is held over the look-ahead and then averaged over as many samples, so that it has
/// come down when the loud sample comes out; after it, it rises with the release as time constant. All channels have the same gain; where nothing is
/// above the ceiling it is exactly 1.
/// </summary>
public sealed class Limiter : IEffect
{
    private readonly double _ceiling;
    private readonly double _release;
    private readonly int _window;
    private readonly double[][] _waiting;
    private readonly double[] _held;
    private readonly List<(long At, double Gain)> _lows = [];
    private int _lowStart;
    private double _smooth = 1;
    private double _sum;
    private int _below;
    private int _place;
    private long _at;

    /// <param name="settings">Of a limiter.</param>
    /// <param name="lookAhead">Samples at the rate that it runs at.</param>
    /// <param name="hz">That rate.</param>
    /// <param name="channels">One or more.</param>
    public Limiter(EffectSettings settings, int lookAhead, double hz, int channels)
    {
        _ceiling = Decibels.ToRatio(settings["ceiling dB"]);
        _release = Math.Exp(-1 / (settings["release ms"] / 1000 * hz));
        _window = lookAhead + 1;
        _waiting = Enumerable.Range(0, channels).Select(_ => new double[_window]).ToArray();
        _held = new double[_window];
        Array.Fill(_held, 1);
        _sum = _window;
    }

    public long Latency => _window - 1;

    public void Process(double[][] samples, int count)
    {
        for (var i = 0; i < count; i++, _at++)
        {
            var magnitude = 0.0;
            foreach (var channel in samples)
            {
                magnitude = Math.Max(magnitude, Math.Abs(channel[i]));
            }

            var gain = Average(Released(Held(magnitude > _ceiling ? _ceiling / magnitude : 1)));
            var place = _place;
            var comes = place + 1 == _window ? 0 : place + 1;
            _place = comes;
            for (var c = 0; c < _waiting.Length; c++)
            {
                _waiting[c][place] = samples[c][i];
                samples[c][i] = Math.Clamp(_waiting[c][comes] * gain, -_ceiling, _ceiling);
            }
        }
    }

    /// <summary>The least gain of the last window of samples: candidates ascend, the first is the least.</summary>
    private double Held(double gain)
    {
        while (_lows.Count > _lowStart && _lows[^1].Gain >= gain)
        {
            _lows.RemoveAt(_lows.Count - 1);
        }

        _lows.Add((_at, gain));
        while (_lows[_lowStart].At <= _at - _window)
        {
            _lowStart++;
        }

        if (_lowStart > 4096)
        {
            _lows.RemoveRange(0, _lowStart);
            _lowStart = 0;
        }

        return _lows[_lowStart].Gain;
    }

    private double Released(double held)
    {
        var next = held < _smooth ? held : held + ((_smooth - held) * _release);

        // At −200 dB from where it goes it has arrived.
        _smooth = Math.Abs(next - held) < 1e-10 ? held : next;
        return _smooth;
    }

    private double Average(double gain)
    {
        var place = _place;
        _below += (gain < 1 ? 1 : 0) - (_held[place] < 1 ? 1 : 0);
        _sum += gain - _held[place];
        _held[place] = gain;
        if (_below == 0)
        {
            // Sums of differences gather rounding errors; here they are known to be nothing.
            _sum = _window;
        }

        return _sum / _window;
    }
}
