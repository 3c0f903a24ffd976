using Lyrotrans.Audio.Rates;

namespace Lyrotrans.Audio.Effects;

/// <summary>
/// A linear-phase filter that halves or doubles the rate: a sinc under a Kaiser window of 120 dB. Every second of its taps is nothing, so it is kept as its
/// centre and the others.
/// </summary>
public sealed class HalfBand
{
    private const double KaiserBeta = 12.265;
    private readonly double[] _taps;
    private readonly double[] _past;
    private double[] _line = [];

    /// <param name="delay">Samples at the higher rate that it delays by; even.</param>
    public HalfBand(int delay)
    {
        Delay = delay;
        _taps = Enumerable.Range(0, delay).Select(k => Tap((2 * k) + 1 - delay, delay)).ToArray();
        _past = new double[2 * delay];
    }

    /// <summary>In samples at the higher rate.</summary>
    public int Delay { get; }

    /// <summary>One channel to twice the rate; for one direction only.</summary>
    public void Up(ReadOnlySpan<double> from, Span<double> into)
    {
        var line = Lined(from, Delay);
        for (var i = 0; i < from.Length; i++)
        {
            into[2 * i] = line[i + Delay - (Delay / 2)];
            into[(2 * i) + 1] = 2 * Dot(line.Slice(i + 1, Delay));
        }
    }

    /// <summary>One channel to half the rate.</summary>
    public void Down(ReadOnlySpan<double> from, Span<double> into)
    {
        var line = Lined(from, 2 * Delay);
        for (var i = 0; i < into.Length; i++)
        {
            var sum = 0.5 * line[(2 * i) + Delay];
            for (var k = 0; k < _taps.Length; k++)
            {
                sum += _taps[k] * line[(2 * i) + (2 * Delay) - 1 - (2 * k)];
            }

            into[i] = sum;
        }
    }

    // The taps are the same read backwards, so the order does not matter.
    private double Dot(ReadOnlySpan<double> samples)
    {
        var sum = 0.0;
        for (var k = 0; k < _taps.Length; k++)
        {
            sum += _taps[k] * samples[k];
        }

        return sum;
    }

    /// <summary>The last <paramref name="past"/> samples before the block, and the block.</summary>
    private ReadOnlySpan<double> Lined(ReadOnlySpan<double> block, int past)
    {
        if (_line.Length < past + block.Length)
        {
            _line = new double[past + block.Length];
        }

        _past.AsSpan(0, past).CopyTo(_line);
        block.CopyTo(_line.AsSpan(past));
        _line.AsSpan(block.Length, past).CopyTo(_past);
        return _line.AsSpan(0, past + block.Length);
    }

    private static double Tap(int from, int reach) => 0.5 * Kaiser.Sinc(from / 2.0, (reach + 1) / 2.0, KaiserBeta);
}
