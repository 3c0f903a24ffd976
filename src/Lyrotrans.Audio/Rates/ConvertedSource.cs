using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// A source at another rate: its sample n lies at n × ratio, its length is the rounded exact one. It is converted where it is read, a stretch at a time with what
/// reaches into it from both sides. Stretches lie on a grid of places that are whole at both rates, so a sample is the same to the last bit whatever was read before it.
/// </summary>
public sealed class ConvertedSource : ISampleSource
{
    private const int LeastStretch = 1 << 16;
    private const int LongestUnit = 1 << 20;

    // Farther than libsoxr's filters reach, in samples of the lower rate; a test compares with much more.
    private const int Reach = 2500;
    private readonly ISampleSource _source;
    private readonly long _stretchIn;
    private readonly int _stretchOut;
    private readonly long _leadIn;
    private readonly int _leadOut;
    private readonly double[][] _planar;
    private readonly double[] _input;
    private readonly double[] _output;
    private long _at = -1;

    /// <param name="source">Closed with this.</param>
    /// <exception cref="ArgumentException">The rates are too far apart.</exception>
    public ConvertedSource(ISampleSource source, SampleRate to)
    {
        if (!RateLimits.CanConvert(source.Rate, to))
        {
            throw new ArgumentException($"A rate of {source.Rate} cannot be converted to {to}.", nameof(to));
        }

        _source = source;
        Rate = to;
        Length = source.Rate.Convert(source.Length, to);

        // The ratio itself, unless only very long spans are whole at both rates: then it is off by less than 2⁻³⁸, a sample in three days.
        var ratio = (to.PerSecond / source.Rate.PerSecond).Within(LongestUnit);
        var (unitIn, unitOut) = ((long)ratio.Denominator, (long)ratio.Numerator);
        var stretch = Units(LeastStretch, Math.Max(unitIn, unitOut));
        var lead = Units(Reach, Math.Min(unitIn, unitOut));
        (_stretchIn, _stretchOut) = (stretch * unitIn, checked((int)(stretch * unitOut)));
        (_leadIn, _leadOut) = (lead * unitIn, checked((int)(lead * unitOut)));
        var frames = checked((int)(_stretchIn + (2 * _leadIn)));
        _planar = [.. Enumerable.Range(0, Channels).Select(_ => new double[frames])];
        _input = new double[frames * Channels];
        _output = new double[(_stretchOut + _leadOut) * Channels];
    }

    public int Channels => _source.Channels;

    public long Length { get; }

    public SampleRate Rate { get; }

    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var end = Math.Min(start + count, Length);
        for (var at = Math.Max(0, start); at < end;)
        {
            Convert(at / _stretchOut);
            var within = (int)(at % _stretchOut);
            var piece = (int)Math.Min(_stretchOut - within, end - at);
            for (var c = 0; c < Channels; c++)
            {
                var output = into[c].AsSpan((int)(at - start), piece);
                for (var i = 0; i < piece; i++)
                {
                    output[i] = _output[((_leadOut + within + i) * Channels) + c];
                }
            }

            at += piece;
        }
    }

    public void Dispose() => _source.Dispose();

    private static long Units(int samples, long unit) => (samples + unit - 1) / unit;

    private void Convert(long stretch)
    {
        if (stretch == _at)
        {
            return;
        }

        _source.Read((stretch * _stretchIn) - _leadIn, _planar[0].Length, _planar);
        for (var c = 0; c < Channels; c++)
        {
            for (var i = 0; i < _planar[c].Length; i++)
            {
                _input[(i * Channels) + c] = _planar[c][i];
            }
        }

        _output.AsSpan().Clear();
        Resampler.Run(_source.Rate, Rate, Channels, _input, _output);
        _at = stretch;
    }
}
