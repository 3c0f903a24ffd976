using Lyrotrans.Core.Effects;

namespace Lyrotrans.Audio.Effects;

/// <summary>Second-order filters in a row, each channel alike (transposed direct form II).</summary>
public sealed class FilterEffect : IEffect
{
    private readonly Biquad[] _filters;
    private readonly double[][] _state;

    public FilterEffect(IEnumerable<Biquad> filters, int channels)
    {
        _filters = filters.ToArray();
        _state = Enumerable.Range(0, channels).Select(_ => new double[_filters.Length * 2]).ToArray();
    }

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        for (var c = 0; c < _state.Length; c++)
        {
            for (var f = 0; f < _filters.Length; f++)
            {
                Run(_filters[f], samples[c].AsSpan(0, count), ref _state[c][f * 2], ref _state[c][(f * 2) + 1]);
            }
        }
    }

    private static void Run(Biquad filter, Span<double> samples, ref double first, ref double second)
    {
        var (one, two) = (first, second);
        foreach (ref var sample in samples)
        {
            var x = sample;
            var y = (filter.B0 * x) + one;
            one = (filter.B1 * x) - (filter.A1 * y) + two;
            two = (filter.B2 * x) - (filter.A2 * y);
            sample = y;
        }

        // Numbers too small for the processor's fast path would slow a silent tail down a hundred times; they are far below any sound.
        (first, second) = (Math.Abs(one) < 1e-200 ? 0 : one, Math.Abs(two) < 1e-200 ? 0 : two);
    }
}
