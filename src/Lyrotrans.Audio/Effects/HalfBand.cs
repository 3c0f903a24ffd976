using System.Runtime.Intrinsics;
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
    private double[] _sums = [];
    private double[] _odd = [];

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
        var between = Room(ref _sums, from.Length);
        Filter(line[1..], between);
        for (var i = 0; i < from.Length; i++)
        {
            into[2 * i] = line[i + Delay - (Delay / 2)];
            into[(2 * i) + 1] = 2 * between[i];
        }
    }

    /// <summary>One channel to half the rate.</summary>
    public void Down(ReadOnlySpan<double> from, Span<double> into)
    {
        var line = Lined(from, 2 * Delay);
        var odd = Room(ref _odd, into.Length + Delay);
        for (var i = 0; i < odd.Length; i++)
        {
            odd[i] = line[(2 * i) + 1];
        }

        Filter(odd, into);
        for (var i = 0; i < into.Length; i++)
        {
            into[i] += 0.5 * line[(2 * i) + Delay];
        }
    }

    /// <summary>
    /// Each place of <paramref name="into"/> gets the samples from it on under the taps, which are the same read backwards. Four times four places at once, each summed from its first tap on,
    /// so that it is the same on every processor.
    /// </summary>
    private void Filter(ReadOnlySpan<double> samples, Span<double> into)
    {
        var at = 0;
        for (; at + 16 <= into.Length; at += 16)
        {
            var (a, b, c, d) = (Vector256<double>.Zero, Vector256<double>.Zero, Vector256<double>.Zero, Vector256<double>.Zero);
            for (var k = 0; k < _taps.Length; k++)
            {
                var tap = Vector256.Create(_taps[k]);
                var under = samples.Slice(at + k, 16);
                a += tap * Vector256.Create(under);
                b += tap * Vector256.Create(under[4..]);
                c += tap * Vector256.Create(under[8..]);
                d += tap * Vector256.Create(under[12..]);
            }

            a.CopyTo(into[at..]);
            b.CopyTo(into[(at + 4)..]);
            c.CopyTo(into[(at + 8)..]);
            d.CopyTo(into[(at + 12)..]);
        }

        for (; at < into.Length; at++)
        {
            var sum = 0.0;
            for (var k = 0; k < _taps.Length; k++)
            {
                sum += _taps[k] * samples[at + k];
            }

            into[at] = sum;
        }
    }

    private static Span<double> Room(ref double[] buffer, int count)
    {
        buffer = buffer.Length < count ? new double[count] : buffer;
        return buffer.AsSpan(0, count);
    }

    /// <summary>The last <paramref name="past"/> samples before the block, and the block.</summary>
    private ReadOnlySpan<double> Lined(ReadOnlySpan<double> block, int past)
    {
        Room(ref _line, past + block.Length);
        _past.AsSpan(0, past).CopyTo(_line);
        block.CopyTo(_line.AsSpan(past));
        _line.AsSpan(block.Length, past).CopyTo(_past);
        return _line.AsSpan(0, past + block.Length);
    }

    private static double Tap(int from, int reach) => 0.5 * Kaiser.Sinc(from / 2.0, (reach + 1) / 2.0, KaiserBeta);
}
