using System.Numerics.Tensors;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Placing;

/// <summary>A sound as one channel: the mean of its channels, or the loudest where the mean is next to nothing of them.</summary>
internal sealed class MonoSound : IDisposable
{
    private const int Block = 1 << 17;

    // Channels that mostly cancel each other are not summed.
    private const double LeastOfMean = 0.05;

    private readonly ISampleSource _source;
    private int? _channel;
    private double[][] _planar = [];

    /// <param name="source">Closed with this.</param>
    /// <param name="channel">Which channel stands for it, where that is decided; none for the mean.</param>
    public MonoSound(ISampleSource source, int? channel = null) => (_source, _channel) = (source, channel);

    /// <summary>Which channel stands for it; none for the mean.</summary>
    public int? Channel => _channel;

    /// <summary>Samples a second.</summary>
    public double PerSecond => Rate.PerSecond.ToDouble();

    /// <summary>The same as a rate.</summary>
    public SampleRate Rate => _source.Rate;

    /// <summary>In samples.</summary>
    public long Length => _source.Length;

    /// <summary>The sound at another rate, its channel the same.</summary>
    public MonoSound At(SampleRate rate) => _source.Rate == rate ? this : new MonoSound(Converted(rate), _channel);

    /// <summary>All of it, and decides which channel stands for it.</summary>
    public float[] Whole(CancellationToken stop)
    {
        var result = new float[checked((int)_source.Length)];
        var energies = new double[_source.Channels];
        Each((block, at, count) =>
        {
            for (var c = 0; c < energies.Length; c++)
            {
                energies[c] += TensorPrimitives.SumOfSquares<double>(block[c].AsSpan(0, count));
            }

            Fold(block, count, result.AsSpan(at));
        });
        if (energies.Length > 1 && TensorPrimitives.SumOfSquares<float>(result) < LeastOfMean * energies.Average())
        {
            _channel = Array.IndexOf(energies, energies.Max());
            Each((block, at, count) => Fold(block, count, result.AsSpan(at)));
        }

        return result;

        void Each(Action<double[][], int, int> take)
        {
            var at = 0;
            _source.Each(Block, (block, count) =>
            {
                take(block, at, count);
                at += count;
            }, stop);
        }
    }

    /// <summary>A stretch; silence before its beginning and after its end.</summary>
    public float[] Read(long start, int count)
    {
        if (_planar.Length == 0 || _planar[0].Length < count)
        {
            _planar = [.. Enumerable.Range(0, _source.Channels).Select(_ => new double[count])];
        }

        _source.Read(start, count, _planar);
        var result = new float[count];
        Fold(_planar, count, result);
        return result;
    }

    public void Dispose() => _source.Dispose();

    private ISampleSource Converted(SampleRate rate) => _source.Rate.PerSecond / rate.PerSecond is var factor && factor.IsWhole && factor > 1
        ? new DecimatedSource(_source, (int)factor.Numerator)
        : new ConvertedSource(_source, rate, leastStretch: Block);

    private void Fold(double[][] planar, int count, Span<float> into)
    {
        for (var i = 0; i < count; i++)
        {
            var sum = 0.0;
            if (_channel is { } channel)
            {
                sum = planar[channel][i] * planar.Length;
            }
            else
            {
                foreach (var samples in planar)
                {
                    sum += samples[i];
                }
            }

            into[i] = (float)(sum / planar.Length);
        }
    }
}
