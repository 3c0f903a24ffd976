using System.Numerics.Tensors;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Comparing;

/// <summary>
/// How far converted sound is from that of a second converter, stretch by stretch: the largest difference and the shift. Compared below nine tenths of the lower half rate, since above it two good
/// converters fall off in two ways.
/// </summary>
public sealed class ConversionError : IDisposable
{
    // Where the difference is let through and where no more, of the lower half rate.
    private const double Pass = 0.85;
    private const double Stop = 0.9;
    private const double Beta = 13;

    // More than is ever compared before a source begins.
    private const int LeastSilence = 1 << 16;
    private readonly ISampleSource _source;
    private readonly SampleRate _to;
    private readonly RateGrid _grid;
    private readonly SilenceAround _around;
    private readonly SincConverter _other;
    private readonly double[] _band;
    private double _across;
    private double _slopes;

    /// <param name="source">Closed with this.</param>
    /// <param name="to">The rate that it is converted to.</param>
    public ConversionError(ISampleSource source, SampleRate to)
        : this(source, source, to)
    {
    }

    private ConversionError(ISampleSource source, ISampleSource meant, SampleRate to)
    {
        (_source, _to, _grid) = (source, to, new RateGrid(source.Rate, to));
        _around = new SilenceAround(source, (LeastSilence + _grid.From - 1) / _grid.From * _grid.From);
        _other = new SincConverter(meant, to);
        _band = Band(Math.Min(1, source.Rate.PerSecond.ToDouble() / to.PerSecond.ToDouble()));
    }

    /// <summary>The largest difference so far; full scale is 1.</summary>
    public double Peak { get; private set; }

    /// <summary>By how many samples of the new rate it comes late, over all that was compared so far; 0 where there was too little sound to tell.</summary>
    public double Late => _slopes > 1e-12 ? -_across / _slopes : 0;

    /// <summary>Two sources at one rate: for a test that it sees what is off.</summary>
    internal static ConversionError Between(ISampleSource source, ISampleSource meant, SampleRate to) => new(source, meant, to);

    /// <summary>Compares a stretch.</summary>
    /// <param name="origin">A sample of the source, which a sample of the new rate lies on.</param>
    /// <param name="start">In samples of the new rate from there.</param>
    /// <param name="count">Samples of the new rate.</param>
    public void Take(long origin, long start, int count)
    {
        var reach = _band.Length / 2;
        var (from, length) = (start - reach, count + (2 * reach));
        double[][] made = Planar(length), meant = Planar(length);
        var place = origin + _around.Silence;
        using var converted = new ConvertedSource(_around, _to, _grid.PhaseOf(place));
        converted.Read(_grid.PlaceOf(place) + from, length, made);
        _other.Read(origin, from, length, meant);
        for (var c = 0; c < made.Length; c++)
        {
            TensorPrimitives.Subtract(made[c], meant[c], made[c]);
            double[] difference = Filtered(made[c], count), sound = Filtered(meant[c], count);
            for (var i = 1; i < count - 1; i++)
            {
                Peak = Math.Max(Peak, Math.Abs(difference[i]));
                var slope = (sound[i + 1] - sound[i - 1]) / 2;
                _across += difference[i] * slope;
                _slopes += slope * slope;
            }
        }
    }

    public void Dispose() => _around.Dispose();

    private double[][] Planar(int length) => [.. Enumerable.Range(0, _source.Channels).Select(_ => new double[length])];

    private double[] Filtered(double[] sound, int count) => [.. Enumerable.Range(0, count).Select(i => TensorPrimitives.Dot<double>(sound.AsSpan(i, _band.Length), _band))];

    private static double[] Band(double lower)
    {
        var reach = (int)Math.Ceiling(122 / (2.285 * (Stop - Pass) * Math.PI * lower) / 2);
        var cut = (Pass + Stop) / 2 * lower;
        return [.. Enumerable.Range(-reach, (2 * reach) + 1).Select(k => cut * Kaiser.Sinc(k * cut, (reach + 1) * cut, Beta))];
    }

    // Converted sound begins and ends with its source; there both are compared with what rings before and after.
    private sealed class SilenceAround(ISampleSource source, long silence) : ISampleSource
    {
        public long Silence => silence;

        public int Channels => source.Channels;

        public long Length => source.Length + (2 * silence);

        public SampleRate Rate => source.Rate;

        public void Read(long start, int count, double[][] into) => source.Read(start - silence, count, into);

        public void Dispose() => source.Dispose();
    }
}
