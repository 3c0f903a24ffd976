using System.Numerics.Tensors;
namespace Lyrotrans.Audio.Mix;

/// <summary>Makes one channel late by whole samples.</summary>
internal sealed class DelayLine(long delay)
{
    private readonly double[] _line = new double[delay];
    private int _place;

    /// <summary>Adds <paramref name="count"/> late samples to <paramref name="into"/>.</summary>
    public void Add(ReadOnlySpan<double> from, Span<double> into, int count)
    {
        if (_line.Length == 0)
        {
            TensorPrimitives.Add(from[..count], into[..count], into);
            return;
        }

        for (var i = 0; i < count; i++)
        {
            into[i] += _line[_place];
            _line[_place] = from[i];
            _place = _place + 1 == _line.Length ? 0 : _place + 1;
        }
    }
}
