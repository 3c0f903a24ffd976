using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// A source at another rate: sample n lies at its sample phase + n × ratio. It is converted where it is read, a stretch at a time with what reaches into it from both sides.
/// Stretches lie on a grid of places that are whole at both rates, so a sample is the same to the last bit whatever was read before it. What lies before sample 0 can be read too.
/// </summary>
public sealed class ConvertedSource : ISampleSource
{
    private const int ShortStretch = 1 << 14;

    // Farther than libsoxr's filters reach, in samples of the lower rate; a test compares with much more.
    private const int Reach = 2500;
    private readonly ISampleSource _source;
    private readonly long _phase;
    private readonly long _stretchIn;
    private readonly int _stretchOut;
    private readonly long _leadIn;
    private readonly int _leadOut;
    private readonly double[][] _planar;
    private readonly double[] _input;
    private readonly double[] _output;
    private long _at = long.MinValue;

    /// <param name="source">Not closed with this: several phases of it can be read.</param>
    /// <param name="phase">The source's sample that sample 0 lies on, 0 or more.</param>
    /// <param name="leastStretch">Samples of the faster rate that are converted at once, at least: more for what is read as a whole, less for what is read here and there.</param>
    /// <exception cref="ArgumentException">The rates are too far apart.</exception>
    public ConvertedSource(ISampleSource source, SampleRate to, long phase = 0, int leastStretch = ShortStretch)
    {
        if (!RateLimits.CanConvert(source.Rate, to))
        {
            throw new ArgumentException($"A rate of {source.Rate} cannot be converted to {to}.", nameof(to));
        }

        (_source, _phase, Rate) = (source, phase, to);
        Length = source.Rate.Convert(Math.Max(0, source.Length - phase), to);
        var grid = new RateGrid(source.Rate, to);
        var stretch = StretchOf(grid, leastStretch);
        var lead = LeadOf(grid);
        (_stretchIn, _stretchOut) = (stretch * grid.From, checked((int)(stretch * grid.To)));
        (_leadIn, _leadOut) = (lead * grid.From, checked((int)(lead * grid.To)));
        var frames = checked((int)(_stretchIn + (2 * _leadIn)));
        _planar = [.. Enumerable.Range(0, Channels).Select(_ => new double[frames])];
        _input = new double[frames * Channels];
        _output = new double[(_stretchOut + _leadOut) * Channels];
    }

    public int Channels => _source.Channels;

    public long Length { get; }

    public SampleRate Rate { get; }

    /// <summary>Samples of a source that are read again at most, where what is converted is read forwards.</summary>
    /// <param name="from">The source's rate.</param>
    /// <param name="to">The other.</param>
    /// <param name="leastStretch">That of the converted source.</param>
    public static int WindowOf(SampleRate from, SampleRate to, int leastStretch)
    {
        var grid = new RateGrid(from, to);
        return checked((int)((StretchOf(grid, leastStretch) + (2 * LeadOf(grid))) * grid.From));
    }

    /// <summary>The samples of a source that a span of another rate needs, with what reaches into it from both sides; it begins at a place that is whole at both rates.</summary>
    /// <param name="span">In samples of the other rate.</param>
    /// <param name="from">The source's rate.</param>
    /// <param name="to">The other.</param>
    public static SampleRange NeededFor(SampleRange span, SampleRate from, SampleRate to)
    {
        var (grid, back) = (new RateGrid(from, to), new RateGrid(to, from));
        var lead = LeadOf(grid) * grid.From;
        return new SampleRange(back.PlaceOf(span.Start) - lead, back.PlaceOf(span.End) + grid.From + lead);
    }

    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var end = Math.Min(start + count, Length);
        for (var at = Math.Max(-_phase * _stretchOut / _stretchIn, start); at < end;)
        {
            var (stretch, within) = Place(at);
            Convert(stretch);
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

    public void Dispose()
    {
    }

    private static long StretchOf(RateGrid grid, int least) => Units(least, Math.Max(grid.From, grid.To));

    private static long LeadOf(RateGrid grid) => Units(Reach, Math.Min(grid.From, grid.To));

    private static long Units(int samples, long unit) => (samples + unit - 1) / unit;

    private (long Stretch, int Within) Place(long sample)
    {
        var stretch = (sample / _stretchOut) - (sample % _stretchOut < 0 ? 1 : 0);
        return (stretch, (int)(sample - (stretch * _stretchOut)));
    }

    private void Convert(long stretch)
    {
        if (stretch == _at)
        {
            return;
        }

        _source.Read(_phase + (stretch * _stretchIn) - _leadIn, _planar[0].Length, _planar);
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
