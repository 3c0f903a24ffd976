using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Pcm;

/// <summary>
/// Holds integer samples that were found against what was meant, with the very noise that they were rounded with. What is left is half a step and what another machine's arithmetic adds, not the noise: a level that is
/// off by less than the noise shows. Shaped noise follows the errors as they were found, so that one other step is one other step.
/// </summary>
public sealed class RoundingCheck
{
    // How near to the middle between two steps another machine may round the other way.
    private const double Unsure = 0.001;
    private readonly double _full;
    private readonly DitherNoise _form;
    private readonly TriangularNoise[] _noise;
    private readonly ShapedError[] _errors;
    private readonly bool[] _lost;

    /// <param name="encoding">Of integers.</param>
    /// <param name="dither">As it was written with.</param>
    /// <param name="channels">Of the sound.</param>
    public RoundingCheck(SampleEncoding encoding, Dither dither, int channels)
    {
        (_full, _form) = (1L << (encoding.Bits() - 1), dither.Noise);
        _noise = [.. Enumerable.Range(0, channels).Select(c => new TriangularNoise(dither.SeedOf(c)))];
        _errors = new ShapedError[channels];
        _lost = new bool[channels];
    }

    /// <summary>The farthest that a sample lay from what was meant with its noise, in steps.</summary>
    public double Worst { get; private set; }

    /// <summary>Whether shaped noise could not be followed to the end of a channel: a sample that is held at full scale does not show which way it was rounded, where it lay between two steps.</summary>
    public bool IsLost => _lost.Contains(true);

    /// <summary>The next samples of all channels: none may be left out.</summary>
    public void Take(double[][] meant, double[][] found, int count)
    {
        for (var c = 0; c < _noise.Length; c++)
        {
            for (var i = 0; i < count; i++)
            {
                Worst = _lost[c] ? Worst : Math.Max(Worst, Distance(c, meant[c][i] * _full, found[c][i] * _full));
            }
        }
    }

    private double Distance(int channel, double meant, double found)
    {
        var wanted = _form == DitherNoise.Shaped ? _errors[channel].Wanted(meant) : meant;
        var noisy = wanted + _noise[channel].Next();

        // What was held at full scale hides how it was rounded.
        var (lowest, highest) = (-_full, _full - 1);
        var isHeld = noisy <= lowest || noisy >= highest;
        _lost[channel] = isHeld && _form == DitherNoise.Shaped && Math.Abs(Math.Abs(noisy - Math.Round(noisy)) - 0.5) < Unsure;
        _errors[channel].Keep((isHeld ? Math.Round(noisy, MidpointRounding.ToEven) : found) - wanted);
        var distance = Math.Abs(Math.Clamp(noisy, lowest, highest) - found);
        return double.IsNaN(distance) ? double.PositiveInfinity : distance;
    }
}
