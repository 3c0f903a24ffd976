namespace Lyrotrans.Audio.Effects;

/// <summary>An effect under way: it keeps what it needs of the samples that went by, and gives the same whatever the blocks they come in.</summary>
public interface IEffect
{
    /// <summary>Samples that its sound comes out late.</summary>
    long Latency { get; }

    /// <summary>Replaces <c>samples[channel][0 … count)</c> by their sound.</summary>
    void Process(double[][] samples, int count);
}
