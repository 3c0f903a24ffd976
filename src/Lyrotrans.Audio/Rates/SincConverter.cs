using System.Numerics.Tensors;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// A second converter, to hold the first one to: every sample is the sum of a windowed sinc at its own exact place, by the textbook and slowly. It shares no code with the one that
/// makes sound. Flat to 0.98 of the lower half rate.
/// </summary>
public sealed class SincConverter
{
    // Zero crossings of the sinc on each side, at the lower rate, and a window that leaves less than −140 dB.
    private const int Crossings = 400;
    private const double Beta = 14.2;
    private const int MostPhases = 4096;
    private readonly ISampleSource _source;
    private readonly RateGrid _grid;
    private readonly double _cutoff;
    private readonly int _taps;
    private readonly Dictionary<long, double[]> _phases = [];
    private double[][] _input = [];

    /// <param name="source">Not closed with this.</param>
    /// <param name="to">The rate of what is made.</param>
    public SincConverter(ISampleSource source, SampleRate to)
    {
        _source = source;
        _grid = new RateGrid(source.Rate, to);
        _cutoff = Math.Min(1, (double)_grid.To / _grid.From);
        _taps = (int)Math.Ceiling(Crossings / _cutoff);
    }

    /// <summary>Fills <c>into[channel][0 … count)</c> from a place on.</summary>
    /// <param name="origin">A sample of the source, which place 0 lies on.</param>
    /// <param name="start">In samples of the new rate from there; may be below 0.</param>
    public void Read(long origin, long start, int count, double[][] into)
    {
        var first = origin + Whole(start) - _taps + 1;
        var last = origin + Whole(start + count - 1) + _taps;
        var length = (int)(last - first + 1);
        if (_input.Length == 0 || _input[0].Length < length)
        {
            _input = [.. Enumerable.Range(0, _source.Channels).Select(_ => new double[length])];
        }

        _source.Read(first, length, _input);
        for (var i = 0; i < count; i++)
        {
            var kernel = Kernel(Part(start + i));
            var at = (int)(origin + Whole(start + i) - _taps + 1 - first);
            for (var c = 0; c < into.Length; c++)
            {
                into[c][i] = TensorPrimitives.Dot<double>(kernel, _input[c].AsSpan(at, kernel.Length));
            }
        }
    }

    // A place of the new rate lies on so many whole samples of the source and a part of one, in parts of To.
    private long Whole(long place) => ((place * _grid.From) - Part(place)) / _grid.To;

    private long Part(long place)
    {
        var part = place * _grid.From % _grid.To;
        return part < 0 ? part + _grid.To : part;
    }

    private double[] Kernel(long part)
    {
        if (_phases.TryGetValue(part, out var kernel))
        {
            return kernel;
        }

        var from = (double)part / _grid.To;
        kernel = [.. Enumerable.Range(1 - _taps, 2 * _taps).Select(k => _cutoff * Windowed((k - from) * _cutoff))];
        if (_phases.Count < MostPhases)
        {
            _phases[part] = kernel;
        }

        return kernel;
    }

    // The sinc under a Kaiser window; written here once more, so that a fault of the other is not shared.
    private static double Windowed(double at)
    {
        var x = at / Crossings;
        var angle = Math.PI * at;
        return Math.Abs(x) >= 1 ? 0 : (Math.Abs(at) < 1e-12 ? 1 : Math.Sin(angle) / angle) * BesselI0(Beta * Math.Sqrt((1 - x) * (1 + x))) / BesselI0(Beta);
    }

    private static double BesselI0(double x)
    {
        var (sum, term, half) = (1.0, 1.0, x / 2);
        for (var k = 1; k < 200 && term > 1e-17 * sum; k++)
        {
            term *= half / k * (half / k);
            sum += term;
        }

        return sum;
    }
}
