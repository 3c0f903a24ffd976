using System.Numerics;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Audio.Transforms;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Click;

/// <summary>
/// Hears clicks of any kind: short sounds of whatever shape, level and pitch, that begin well above what rings before them. Each begins at the first sample of its
/// rise, where there is silence before it, else where it reaches a tenth of its peak.
/// </summary>
public sealed class ClickReader
{
    private const double HopsPerSecond = 1000;
    private const double Faintest = 0.02;
    private const double Rise = 2.5;
    private const int RingHops = 30;
    private const int ShortestHops = 40;
    private const double OfPeak = 0.1;
    private const double Silent = 1e-3;
    private const int SilentSamples = 5;
    private const int Spectrum = 2048;
    private readonly ISampleSource _source;
    private readonly CancellationToken _stop;
    private readonly int _hop;
    private int _channel;

    private ClickReader(ISampleSource source, CancellationToken stop)
    {
        _source = source;
        _stop = stop;
        _hop = Math.Max(1, (int)Math.Round(source.Rate.PerSecond.ToDouble() / HopsPerSecond));
    }

    /// <summary>All clicks of a file, ascending, in its frames; by its loudest channel.</summary>
    /// <param name="source">The file.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public static IReadOnlyList<HeardClick> Read(ISampleSource source, CancellationToken stop) => new ClickReader(source, stop).Read();

    private List<HeardClick> Read()
    {
        var levels = Levels();
        var peak = levels.Length == 0 ? 0 : levels.Max();
        var clicks = new List<HeardClick>();
        var last = -ShortestHops;
        for (var h = 0; peak > 0 && h < levels.Length; h++)
        {
            var before = h < 2 ? 0 : levels.AsSpan(Math.Max(0, h - RingHops)..(h - 1)).ToArray().Max();
            if (levels[h] >= Faintest * peak && levels[h] > Rise * before && h - last >= ShortestHops)
            {
                _stop.ThrowIfCancellationRequested();
                clicks.Add(Heard(h, before));
                last = h;
            }
        }

        return clicks;
    }

    // The highest of each millisecond, of the loudest channel.
    private float[] Levels()
    {
        var levels = Enumerable.Range(0, _source.Channels).Select(_ => new float[(int)((_source.Length + _hop - 1) / _hop)]).ToArray();
        var (at, sums) = (0L, new double[_source.Channels]);
        _source.Each(1 << 15, (planar, count) =>
        {
            for (var c = 0; c < levels.Length; c++)
            {
                for (var i = 0; i < count; i++)
                {
                    var level = Math.Abs(planar[c][i]);
                    ref var most = ref levels[c][(int)((at + i) / _hop)];
                    most = Math.Max(most, (float)level);
                    sums[c] += level;
                }
            }

            at += count;
        }, _stop);
        _channel = Array.IndexOf(sums, sums.Max());
        return levels[_channel];
    }

    private HeardClick Heard(int hop, double before)
    {
        // From two milliseconds before, to the end of what is looked at for its pitch.
        var start = (hop - 2L) * _hop;
        var samples = new double[(ShortestHops + 2) * _hop + Spectrum];
        var planar = Enumerable.Range(0, _source.Channels).Select(c => c == _channel ? samples : new double[samples.Length]).ToArray();
        _source.Read(start, samples.Length, planar);
        var peak = samples.AsSpan(0, (ShortestHops + 2) * _hop).ToArray().Max(Math.Abs);
        var crossing = Array.FindIndex(samples, s => Math.Abs(s) >= Math.Max(OfPeak * peak, Rise * before));
        var onset = Begins(samples, crossing, Math.Max(Silent * peak, 1.5 * before));
        return new HeardClick(start + onset, Decibels.FromRatio(peak), Pitch(samples.AsSpan(onset)));
    }

    // Back from the crossing to the silence before it, if that is within a millisecond.
    private int Begins(double[] samples, int crossing, double silent)
    {
        var quiet = 0;
        for (var i = crossing - 1; i >= Math.Max(0, crossing - _hop - SilentSamples); i--)
        {
            quiet = Math.Abs(samples[i]) <= silent ? quiet + 1 : 0;
            if (quiet == SilentSamples)
            {
                return i + SilentSamples;
            }
        }

        return crossing;
    }

    // The middle of its spectrum, by energy, above what is felt and not heard.
    private double Pitch(ReadOnlySpan<double> samples)
    {
        var values = new Complex[Spectrum];
        for (var i = 0; i < Math.Min(Spectrum / 2, samples.Length); i++)
        {
            values[i] = samples[i];
        }

        Fourier.Forward(values);
        var perBin = _source.Rate.PerSecond.ToDouble() / Spectrum;
        var (sum, weighted) = (0.0, 0.0);
        for (var k = 1; k < Spectrum / 2; k++)
        {
            var energy = (values[k].Real * values[k].Real) + (values[k].Imaginary * values[k].Imaginary);
            sum += energy;
            weighted += energy * k * perBin;
        }

        return sum > 0 ? weighted / sum : perBin;
    }
}
