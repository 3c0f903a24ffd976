namespace Lyrotrans.Audio.Pcm;

/// <summary>Noise from −1 to 1, most often near 0, the same from the same seed: the difference of two values of SplitMix64, a counter whose bits are mixed.</summary>
internal struct TriangularNoise(ulong seed)
{
    private ulong _counter = seed;

    public double Next() => Uniform() - Uniform();

    private double Uniform()
    {
        _counter += 0x9E3779B97F4A7C15;
        var mixed = (_counter ^ (_counter >> 30)) * 0xBF58476D1CE4E5B9;
        mixed = (mixed ^ (mixed >> 27)) * 0x94D049BB133111EB;
        return ((mixed ^ (mixed >> 31)) >> 11) * (1.0 / (1UL << 53));
    }
}
