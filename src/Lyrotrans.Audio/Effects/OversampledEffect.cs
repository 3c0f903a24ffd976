namespace Lyrotrans.Audio.Effects;

/// <summary>An effect that runs at two or four times the rate, so that what it makes above half the rate does not fold back. Linear phase.</summary>
public sealed class OversampledEffect : IEffect
{
    private const int OuterDelay = 64;
    private const int InnerDelay = 16;
    private readonly IEffect _inner;
    private readonly int _factor;
    private readonly HalfBand[][] _up;
    private readonly HalfBand[][] _down;
    private double[][][] _steps = [];

    public OversampledEffect(IEffect inner, int factor, int channels)
    {
        _inner = inner;
        _factor = factor;
        int[] delays = factor == 4 ? [OuterDelay, InnerDelay] : [OuterDelay];
        HalfBand[][] Filters() => Enumerable.Range(0, channels).Select(_ => delays.Select(d => new HalfBand(d)).ToArray()).ToArray();
        _up = Filters();
        _down = Filters();
    }

    /// <summary>At the outer rate: up and down together delay by one filter's samples at the lower of its rates.</summary>
    public long Latency => OuterDelay + (_factor == 4 ? InnerDelay / 2 : 0) + (_inner.Latency / _factor);

    public void Process(double[][] samples, int count)
    {
        Grow(count);
        var stages = _up[0].Length;
        for (var c = 0; c < _up.Length; c++)
        {
            samples[c].AsSpan(0, count).CopyTo(_steps[0][c]);
            for (var s = 0; s < stages; s++)
            {
                _up[c][s].Up(_steps[s][c].AsSpan(0, count << s), _steps[s + 1][c].AsSpan(0, count << (s + 1)));
            }
        }

        _inner.Process(_steps[stages], count * _factor);
        for (var c = 0; c < _up.Length; c++)
        {
            for (var s = stages - 1; s >= 0; s--)
            {
                _down[c][s].Down(_steps[s + 1][c].AsSpan(0, count << (s + 1)), _steps[s][c].AsSpan(0, count << s));
            }

            _steps[0][c].AsSpan(0, count).CopyTo(samples[c]);
        }
    }

    private void Grow(int count)
    {
        if (_steps.Length == 0 || _steps[0][0].Length < count)
        {
            _steps = Enumerable.Range(0, _up[0].Length + 1).Select(s => Enumerable.Range(0, _up.Length).Select(_ => new double[count << s]).ToArray()).ToArray();
        }
    }
}
