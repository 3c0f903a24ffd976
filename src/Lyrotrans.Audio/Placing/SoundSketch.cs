using Lyrotrans.Audio.Sources;
using Lyrotrans.Audio.Transforms;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// What is kept of a sound to hold it to others that should lie at the same place: spectra of short stretches spread evenly over the session, as one channel at the rate of the
/// analysis. It says how alike two sounds are where one is late by at most <see cref="MostLateSeconds"/>, and nothing of where else one could lie.
/// </summary>
public sealed class SoundSketch
{
    /// <summary>By how much one sound may be late or early, in seconds: what effects delay a print by.</summary>
    public const double MostLateSeconds = (double)Reach / AnalysisSound.Hz;

    private const int Stretch = 1 << 12;
    private const int Stretches = 48;
    private const int Size = 2 * Stretch;
    private const int Reach = 1 << 10;
    private readonly Complex32[][] _spectra;
    private readonly double _energy;

    private SoundSketch(Complex32[][] spectra) => (_spectra, _energy) = (spectra, spectra.Sum(s => s.Sum(v => (double)v.MagnitudeSquared)));

    /// <param name="sound">Closed with this; its first sample lies on sample 0 of the session.</param>
    /// <param name="seconds">The session's length; all that are held to each other have the same.</param>
    /// <param name="stop">Heeded between stretches.</param>
    public static SoundSketch Of(ISampleSource sound, double seconds, CancellationToken stop)
    {
        using var mono = new MonoSound(sound);
        var analysed = mono.At(AnalysisSound.Rate);
        var end = (long)(seconds * AnalysisSound.Hz);
        var spectra = new Complex32[Stretches][];
        for (var i = 0; i < Stretches; i++)
        {
            stop.ThrowIfCancellationRequested();
            var middle = ((2 * i) + 1) * end / (2 * Stretches);
            spectra[i] = Spectrum(analysed.Read(middle - (Stretch / 2), Stretch));
        }

        return new SoundSketch(spectra);
    }

    /// <summary>The sound with another one taken out of it that is summed in it.</summary>
    public SoundSketch Without(SoundSketch other) => new([.. _spectra.Zip(other._spectra, (a, b) => a.Zip(b, (x, y) => x - y).ToArray())]);

    /// <summary>
    /// Correlation over all stretches, where it is highest, whatever the polarity: 1 for the same sound at any level, near 0 for different ones, 0 where either is silent. And how far the likeness
    /// of phases stands above that at any delay, in standard deviations: high where one sound is part of the other, low where two parts of a piece only keep time.
    /// </summary>
    public (double Correlation, double Clearness) LikenessTo(SoundSketch other)
    {
        var scale = Math.Sqrt(_energy * other._energy);
        if (scale == 0)
        {
            return (0, 0);
        }

        var (cross, phases) = (new Complex32[Size], new Complex32[Size]);
        foreach (var (a, b) in _spectra.Zip(other._spectra))
        {
            for (var i = 0; i < Size; i++)
            {
                var product = a[i].Conjugate() * b[i];
                cross[i] += product;
                phases[i] += product.MagnitudeSquared > 0 ? product / product.Magnitude : Complex32.Zero;
            }
        }

        Fourier.Inverse(cross);
        Fourier.Inverse(phases);
        var clear = Near.Max(late => Math.Abs((double)phases[(late + Size) % Size].Real)) / Math.Sqrt(phases.Average(v => (double)v.Real * v.Real));

        // Of a sound that is late less of each stretch lies in the other's.
        return (Math.Min(1, Near.Max(late => Math.Abs((double)cross[(late + Size) % Size].Real) * Stretch / (Stretch - Math.Abs(late))) / scale), clear);
    }

    private static IEnumerable<int> Near => Enumerable.Range(-Reach, (2 * Reach) + 1);

    private static Complex32[] Spectrum(float[] samples)
    {
        var values = new Complex32[Size];
        for (var i = 0; i < samples.Length; i++)
        {
            values[i] = new Complex32(samples[i], 0);
        }

        Fourier.Forward(values);
        return values;
    }
}
