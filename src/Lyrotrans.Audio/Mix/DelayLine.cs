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

        for (var at = 0; at < count;)
        {
            // Up to the line's end at once.
            var piece = Math.Min(count - at, _line.Length - _place);
            var late = _line.AsSpan(_place, piece);
            var sum = into.Slice(at, piece);
            TensorPrimitives.Add(sum, late, sum);
            from.Slice(at, piece).CopyTo(late);
            (at, _place) = (at + piece, (_place + piece) % _line.Length);
        }
    }
}
