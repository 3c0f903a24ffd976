using System.Numerics;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Effects;

/// <summary>
/// A room: eight delay lines that feed each other through a matrix which keeps the energy (Householder), each with the loss that makes the whole fall by
/// 60 dB in the set time, and a low-pass by which highs fall sooner. Every channel hears the lines with signs of its own.
/// </summary>
public sealed class Reverb : IEffect
{
    private const int Lines = 8;
    private static readonly double[] s_milliseconds = [29.7, 37.1, 41.1, 43.7, 53.3, 61.9, 71.3, 79.1];
    private readonly double[][] _lines;
    private readonly int[] _places = new int[Lines];
    private readonly double[] _loss = new double[Lines];
    private readonly double[] _low = new double[Lines];
    private readonly double[] _preDelay;
    private readonly double _damping;
    private readonly double _mix;
    private readonly int _channels;
    private int _prePlace;

    public Reverb(EffectSettings settings, SampleRate rate, int channels)
    {
        var hz = rate.PerSecond.ToDouble();
        _channels = channels;
        _mix = settings["mix %"] / 100;
        _damping = 1 - Math.Exp(-2 * Math.PI * settings["damping Hz"] / hz);
        _preDelay = new double[Math.Max(1, settings.Milliseconds("pre-delay ms", rate))];
        _lines = s_milliseconds.Select(ms => new double[(int)(ms / 1000 * hz) | 1]).ToArray();
        for (var i = 0; i < Lines; i++)
        {
            _loss[i] = Math.Pow(10, -3 * _lines[i].Length / (settings["time s"] * hz));
        }
    }

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        Span<double> heard = stackalloc double[Lines];
        for (var i = 0; i < count; i++)
        {
            var sound = 0.0;
            for (var c = 0; c < _channels; c++)
            {
                sound += samples[c][i];
            }

            var input = _preDelay[_prePlace];
            _preDelay[_prePlace] = sound / _channels;
            _prePlace = _prePlace + 1 == _preDelay.Length ? 0 : _prePlace + 1;
            Step(input, heard);
            for (var c = 0; c < _channels; c++)
            {
                samples[c][i] = ((1 - _mix) * samples[c][i]) + (_mix * Hear(heard, c));
            }
        }

        for (var k = 0; k < Lines; k++)
        {
            _low[k] = Math.Abs(_low[k]) < 1e-200 ? 0 : _low[k];
        }
    }

    private void Step(double input, Span<double> heard)
    {
        var sum = 0.0;
        for (var k = 0; k < Lines; k++)
        {
            heard[k] = _lines[k][_places[k]];
            _low[k] += _damping * (heard[k] - _low[k]);
            sum += _low[k] * _loss[k];
        }

        for (var k = 0; k < Lines; k++)
        {
            // What has fallen below −4000 dB is nothing, and slow to compute with.
            var next = (_low[k] * _loss[k]) - (sum * 2 / Lines) + input;
            _lines[k][_places[k]] = Math.Abs(next) < 1e-200 ? 0 : next;
            _places[k] = _places[k] + 1 == _lines[k].Length ? 0 : _places[k] + 1;
        }
    }

    // Rows of a Hadamard matrix, so that no two channels hear the same.
    private static double Hear(ReadOnlySpan<double> heard, int channel)
    {
        var sum = 0.0;
        for (var k = 0; k < Lines; k++)
        {
            sum += (BitOperations.PopCount((uint)(k & (channel + 1))) & 1) == 0 ? heard[k] : -heard[k];
        }

        return sum / Lines;
    }
}
