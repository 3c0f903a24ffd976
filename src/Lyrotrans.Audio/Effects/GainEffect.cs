using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Effects;

/// <summary>One gain, in dB.</summary>
public sealed class GainEffect(double decibels) : IEffect
{
    private readonly double _gain = Decibels.ToRatio(decibels);

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        foreach (var channel in samples)
        {
            foreach (ref var sample in channel.AsSpan(0, count))
            {
                sample *= _gain;
            }
        }
    }
}
