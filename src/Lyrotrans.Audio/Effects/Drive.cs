using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Effects;

/// <summary>An amplifier driven hard: the gained sound through a curve (hyperbolic tangent) that never passes full scale.</summary>
public sealed class Drive(double driveDb, double levelDb) : IEffect
{
    private readonly double _drive = Decibels.ToRatio(driveDb);
    private readonly double _level = Decibels.ToRatio(levelDb);

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        foreach (var channel in samples)
        {
            foreach (ref var sample in channel.AsSpan(0, count))
            {
                sample = _level * Math.Tanh(_drive * sample);
            }
        }
    }
}
