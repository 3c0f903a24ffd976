using System.Numerics.Tensors;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Where a sound is louder than all about it, in time and in frequency: tones and strikes that are still there under noise, beside other parts and through equalisers. A sound that runs at another speed has the same
/// peaks at other times and frequencies.
/// </summary>
/// <remarks>docs/decisions/0054-landmarks.md.</remarks>
internal sealed class LandmarkPeaks
{
    /// <summary>Samples of the analysis from one spectrum to the next: 16 ms.</summary>
    public const int Hop = 128;

    /// <summary>Frequencies are from 0 to this.</summary>
    public const int Bins = Size / 2;
    private const int Size = 512;

    // What a peak stands out of: 64 ms and 94 Hz to each side.
    private const int Times = 4;
    private const int Frequencies = 6;

    // Bins; below is what is no tone.
    private const int Lowest = 2;

    // 80 dB below the loudest is none.
    private const float LeastOfLoudest = 1e-4f;
    private readonly List<Peak> _peaks;

    private LandmarkPeaks(List<Peak> peaks) => _peaks = peaks;

    /// <param name="samples">At the rate of the analysis.</param>
    /// <param name="stop">Heeded all along.</param>
    public static LandmarkPeaks Of(float[] samples, CancellationToken stop)
    {
        var spectra = Spectrogram.Of(samples, Size, Hop, stop);
        var highest = Highest(spectra, stop);
        var least = LeastOfLoudest * spectra.Select(s => TensorPrimitives.Max<float>(s)).DefaultIfEmpty(0).Max();
        var peaks = new List<Peak>();
        for (var t = 0; t < spectra.Length; t++)
        {
            for (var f = Lowest; f < Bins; f++)
            {
                var value = spectra[t][f];
                if (value > least && value == highest[t][f])
                {
                    peaks.Add(new Peak(t, f, value));
                }
            }
        }

        return new LandmarkPeaks(peaks);
    }

    /// <summary>As landmarks, at the speed that the sound was read at.</summary>
    public Landmarks Marks() => Landmarks.Of(_peaks);

    /// <summary>As landmarks of the sound when it runs so many times as fast.</summary>
    public Landmarks Marks(double speed)
    {
        // A spectrum stands for its middle.
        const double Middle = (double)Size / 2 / Hop;
        var peaks = _peaks.Select(p => new Peak((int)Math.Round(((p.Time + Middle) / speed) - Middle), (int)Math.Round(p.Frequency * speed), p.Strength));
        return Landmarks.Of([.. peaks.Where(p => p is { Frequency: >= Lowest and < Bins, Time: >= 0 })]);
    }

    /// <summary>The highest about each value.</summary>
    private static float[][] Highest(float[][] spectra, CancellationToken stop)
    {
        var along = spectra.Select(s =>
        {
            var result = (float[])s.Clone();
            for (var by = 1; by <= Frequencies; by++)
            {
                TensorPrimitives.Max<float>(result.AsSpan(by), s.AsSpan(0, Bins - by), result.AsSpan(by));
                TensorPrimitives.Max<float>(result.AsSpan(0, Bins - by), s.AsSpan(by), result.AsSpan(0, Bins - by));
            }

            return result;
        }).ToArray();
        stop.ThrowIfCancellationRequested();
        return [.. along.Select((s, t) =>
        {
            var result = (float[])s.Clone();
            for (var other = Math.Max(0, t - Times); other <= Math.Min(along.Length - 1, t + Times); other++)
            {
                TensorPrimitives.Max<float>(result, along[other], result);
            }

            return result;
        })];
    }

    internal readonly record struct Peak(int Time, int Frequency, float Strength);
}
