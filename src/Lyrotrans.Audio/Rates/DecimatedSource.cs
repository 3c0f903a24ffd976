using System.Numerics.Tensors;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// A source at a whole fraction of its rate: sample n lies at n × factor. Quick rather than exact, for measuring: what lies above nine tenths of half the new rate fades away, what
/// would fold back is 70 dB down.
/// </summary>
internal sealed class DecimatedSource : ISampleSource
{
    private const int Piece = 1 << 12;

    // Crossings of zero on each side of the middle.
    private const int Crossings = 12;
    private const double Beta = 7;
    private const double Edge = 0.9;
    private readonly ISampleSource _source;
    private readonly int _factor;
    private readonly int _reach;
    private readonly double[] _taps;
    private readonly double[][] _input;

    /// <param name="source">Not closed with this.</param>
    /// <param name="factor">2 or more.</param>
    public DecimatedSource(ISampleSource source, int factor)
    {
        (_source, _factor, _reach) = (source, factor, (int)(Crossings * factor / Edge));
        Rate = new SampleRate(source.Rate.PerSecond / factor);
        Length = (source.Length + factor - 1) / factor;
        var taps = Enumerable.Range(-_reach, (2 * _reach) + 1).Select(i => Kaiser.Sinc(Edge * i / factor, Crossings + Edge, Beta)).ToArray();
        var sum = taps.Sum();
        _taps = [.. taps.Select(t => t / sum)];
        _input = [.. Enumerable.Range(0, source.Channels).Select(_ => new double[(Piece * factor) + (2 * _reach)])];
    }

    public int Channels => _source.Channels;

    public long Length { get; }

    public SampleRate Rate { get; }

    public void Read(long start, int count, double[][] into)
    {
        for (var done = 0; done < count; done += Piece)
        {
            var piece = Math.Min(Piece, count - done);
            _source.Read(((start + done) * _factor) - _reach, ((piece - 1) * _factor) + _taps.Length, _input);
            for (var c = 0; c < Channels; c++)
            {
                for (var i = 0; i < piece; i++)
                {
                    into[c][done + i] = TensorPrimitives.Dot<double>(_taps, _input[c].AsSpan(i * _factor, _taps.Length));
                }
            }
        }
    }

    public void Dispose()
    {
    }
}
