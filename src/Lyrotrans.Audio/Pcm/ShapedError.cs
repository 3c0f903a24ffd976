namespace Lyrotrans.Audio.Pcm;

/// <summary>The errors of the last samples of a channel, which are taken off the next so that noise lies where the ear hears it least.</summary>
internal struct ShapedError
{
    // Three taps that follow the ear's threshold at 44.1 and 48 kHz; the error itself has the response 1 − Σ.
    private const double First = 1.623;
    private const double Second = -0.982;
    private const double Third = 0.109;
    private double _last;
    private double _before;
    private double _third;

    /// <summary>By how much more than without it a sample can be off.</summary>
    public static double Most => 1 + Math.Abs(First) + Math.Abs(Second) + Math.Abs(Third);

    /// <summary>What a sample is to be, less what those before it were off, in steps.</summary>
    public readonly double Wanted(double scaled) => scaled - (First * _last) - (Second * _before) - (Third * _third);

    /// <summary>By how much a sample came out off what was wanted, in steps.</summary>
    public void Keep(double error) => (_third, _before, _last) = (_before, _last, error);
}
