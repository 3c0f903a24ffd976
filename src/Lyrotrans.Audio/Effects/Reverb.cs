using System.Numerics;
using System.Runtime.Intrinsics;
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
    private const double Nothing = 1e-200;
    private static readonly double[] s_milliseconds = [29.7, 37.1, 41.1, 43.7, 53.3, 61.9, 71.3, 79.1];
    private readonly double[][] _lines;
    private readonly int[] _places = new int[Lines];
    private readonly double[] _preDelay;
    private readonly (Vector256<double> First, Vector256<double> Second) _loss;
    private readonly (Vector256<double> First, Vector256<double> Second)[] _signs;
    private readonly double _damping;
    private readonly double _mix;
    private (Vector256<double> First, Vector256<double> Second) _low;
    private int _prePlace;

    public Reverb(EffectSettings settings, SampleRate rate, int channels)
    {
        var hz = rate.PerSecond.ToDouble();
        _mix = settings["mix %"] / 100;
        _damping = 1 - Math.Exp(-2 * Math.PI * settings["damping Hz"] / hz);
        _preDelay = new double[Math.Max(1, settings.Milliseconds("pre-delay ms", rate))];
        _lines = s_milliseconds.Select(ms => new double[(int)(ms / 1000 * hz) | 1]).ToArray();
        _loss = Halves(_lines.Select(l => Math.Pow(10, -3 * l.Length / (settings["time s"] * hz))));
        _signs = Enumerable.Range(0, channels).Select(Signs).ToArray();
    }

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        for (var i = 0; i < count; i++)
        {
            var sound = 0.0;
            foreach (var channel in samples)
            {
                sound += channel[i];
            }

            var input = _preDelay[_prePlace];
            _preDelay[_prePlace] = sound / samples.Length;
            _prePlace = _prePlace + 1 == _preDelay.Length ? 0 : _prePlace + 1;
            var (first, second) = Step(input);
            for (var c = 0; c < samples.Length; c++)
            {
                var heard = Sum((first * _signs[c].First) + (second * _signs[c].Second)) / Lines;
                samples[c][i] = ((1 - _mix) * samples[c][i]) + (_mix * heard);
            }
        }

        _low = (Settled(_low.First), Settled(_low.Second));
    }

    // What each line says now; then what goes into it.
    private (Vector256<double> First, Vector256<double> Second) Step(double input)
    {
        var lines = _lines;
        var places = _places;
        var first = Vector256.Create(lines[0][places[0]], lines[1][places[1]], lines[2][places[2]], lines[3][places[3]]);
        var second = Vector256.Create(lines[4][places[4]], lines[5][places[5]], lines[6][places[6]], lines[7][places[7]]);
        _low = (_low.First + (_damping * (first - _low.First)), _low.Second + (_damping * (second - _low.Second)));
        var (a, b) = (_low.First * _loss.First, _low.Second * _loss.Second);
        var shared = input - (Sum(a + b) * 2 / Lines);
        var (intoFirst, intoSecond) = (Settled(a + Vector256.Create(shared)), Settled(b + Vector256.Create(shared)));
        for (var k = 0; k < Lines; k++)
        {
            lines[k][places[k]] = k < Lines / 2 ? intoFirst[k] : intoSecond[k - (Lines / 2)];
            places[k] = places[k] + 1 == lines[k].Length ? 0 : places[k] + 1;
        }

        return (first, second);
    }

    // In an order of its own, so that it is the same on every processor.
    private static double Sum(Vector256<double> four) => four[0] + four[1] + (four[2] + four[3]);

    // What has fallen below −4000 dB is nothing, and slow to compute with.
    private static Vector256<double> Settled(Vector256<double> four) =>
        Vector256.ConditionalSelect(Vector256.LessThan(Vector256.Abs(four), Vector256.Create(Nothing)), Vector256<double>.Zero, four);

    // Rows of a Hadamard matrix, so that no two channels hear the same.
    private static (Vector256<double> First, Vector256<double> Second) Signs(int channel) =>
        Halves(Enumerable.Range(0, Lines).Select(k => (BitOperations.PopCount((uint)(k & (channel + 1))) & 1) == 0 ? 1.0 : -1.0));

    private static (Vector256<double> First, Vector256<double> Second) Halves(IEnumerable<double> eight)
    {
        var all = eight.ToArray();
        return (Vector256.Create(all), Vector256.Create(all, Lines / 2));
    }
}
