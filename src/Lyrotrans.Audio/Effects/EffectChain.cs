namespace Lyrotrans.Audio.Effects;

/// <summary>Two effects, one after the other.</summary>
public sealed class EffectChain(IEffect first, IEffect second) : IEffect
{
    public long Latency => first.Latency + second.Latency;

    public void Process(double[][] samples, int count)
    {
        first.Process(samples, count);
        second.Process(samples, count);
    }
}
