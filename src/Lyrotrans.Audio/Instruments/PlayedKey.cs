using System.Buffers;

namespace Lyrotrans.Audio.Instruments;

/// <summary>The sound of one key from the sample on which it was struck. Its memory is lent: there are many of them, long and soon over.</summary>
internal sealed class PlayedKey : IDisposable
{
    private readonly float[] _left;
    private readonly float[] _right;
    private readonly int _length;

    public PlayedKey(long start, ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        Start = start;
        _length = left.Length;
        _left = ArrayPool<float>.Shared.Rent(_length);
        _right = ArrayPool<float>.Shared.Rent(_length);
        left.CopyTo(_left);
        right.CopyTo(_right);
    }

    /// <summary>The session sample on which it was struck.</summary>
    public long Start { get; }

    /// <summary>One past its last session sample.</summary>
    public long End => Start + _length;

    /// <summary>Some of its session samples, which it must have.</summary>
    public ReadOnlySpan<float> Left(long from, int count) => _left.AsSpan((int)(from - Start), count);

    /// <summary>The same of the right side.</summary>
    public ReadOnlySpan<float> Right(long from, int count) => _right.AsSpan((int)(from - Start), count);

    public void Dispose()
    {
        ArrayPool<float>.Shared.Return(_left);
        ArrayPool<float>.Shared.Return(_right);
    }
}
