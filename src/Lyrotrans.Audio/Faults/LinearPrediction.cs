using System.Numerics.Tensors;

namespace Lyrotrans.Audio.Faults;

/// <summary>
/// What of a sound cannot be foretold from the samples before: small and even for what vibrates, whatever its tone; large where it was not made by anything that moves. The autocorrelation method
/// with Levinson's recursion, over one stretch at a time.
/// </summary>
internal sealed class LinearPrediction
{
    /// <summary>Samples that the next one is foretold from.</summary>
    public const int Order = 24;

    // What the last bits' noise is not to be taken for.
    private const double Floor = 1e-9;
    private readonly double[] _window;
    private readonly double[] _weighed;
    private readonly double[] _correlation = new double[Order + 1];
    private readonly double[] _filter = new double[Order + 1];
    private readonly double[] _before = new double[Order + 1];

    /// <param name="stretch">Samples at a time.</param>
    public LinearPrediction(int stretch)
    {
        _window = [.. Enumerable.Range(0, stretch).Select(i => 0.5 - (0.5 * Math.Cos(2 * Math.PI * (i + 0.5) / stretch)))];
        _weighed = new double[stretch];
    }

    /// <param name="samples">The <see cref="Order"/> samples before a stretch, and the stretch.</param>
    /// <param name="residual">As long as the stretch: what its samples are beside what was foretold.</param>
    public void Residual(ReadOnlySpan<double> samples, Span<double> residual)
    {
        var stretch = samples[Order..];
        TensorPrimitives.Multiply(stretch, _window, _weighed);
        for (var lag = 0; lag <= Order; lag++)
        {
            _correlation[lag] = TensorPrimitives.Dot<double>(_weighed.AsSpan(lag), _weighed.AsSpan(0, _weighed.Length - lag));
        }

        Solve();
        stretch.CopyTo(residual);
        for (var k = 1; k <= Order; k++)
        {
            TensorPrimitives.MultiplyAdd(samples.Slice(Order - k, stretch.Length), _filter[k], residual, residual);
        }
    }

    private void Solve()
    {
        Array.Clear(_filter);
        _filter[0] = 1;
        var error = (_correlation[0] * (1 + Floor)) + double.Epsilon;
        for (var i = 1; i <= Order; i++)
        {
            var sum = 0.0;
            for (var k = 0; k < i; k++)
            {
                sum += _filter[k] * _correlation[i - k];
            }

            var reflection = -sum / error;
            _filter.AsSpan(0, i + 1).CopyTo(_before);
            for (var k = 1; k <= i; k++)
            {
                _filter[k] = _before[k] + (reflection * _before[i - k]);
            }

            error *= 1 - (reflection * reflection);
            if (error <= 0)
            {
                return;
            }
        }
    }
}
