using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Effects;

/// <summary>
/// Turns down what is above a threshold: beyond the knee, each dB more going in is 1/ratio dB more coming out. All channels are turned down alike, by the
/// loudest of them; the reduction follows with the attack and release as time constants.
/// </summary>
public sealed class Compressor : IEffect
{
    private readonly double _threshold;
    private readonly double _slope;
    private readonly double _knee;
    private readonly double _makeUp;
    private readonly double _attack;
    private readonly double _release;
    private double _reduction;

    /// <param name="settings">Of a compressor.</param>
    /// <param name="hz">The rate that it runs at.</param>
    public Compressor(EffectSettings settings, double hz)
    {
        _threshold = settings["threshold dB"];
        _slope = 1 - (1 / settings["ratio"]);
        _knee = settings["knee dB"];
        _makeUp = settings["make-up dB"];
        _attack = Math.Exp(-1 / (settings["attack ms"] / 1000 * hz));
        _release = Math.Exp(-1 / (settings["release ms"] / 1000 * hz));
    }

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        for (var i = 0; i < count; i++)
        {
            var magnitude = 0.0;
            foreach (var channel in samples)
            {
                magnitude = Math.Max(magnitude, Math.Abs(channel[i]));
            }

            var wanted = magnitude > 0 ? Reduction(Decibels.FromRatio(magnitude) - _threshold) : 0;
            _reduction = wanted + ((_reduction - wanted) * (wanted > _reduction ? _attack : _release));
            var gain = Decibels.ToRatio(_makeUp - _reduction);
            foreach (var channel in samples)
            {
                channel[i] *= gain;
            }
        }
    }

    /// <summary>In dB, for a level so many dB above the threshold; the knee rounds the corner by a parabola.</summary>
    private double Reduction(double over) =>
        over <= -_knee / 2 ? 0
        : over < _knee / 2 ? _slope * (over + (_knee / 2)) * (over + (_knee / 2)) / (2 * _knee)
        : _slope * over;
}
