using System.Numerics.Tensors;
using Lyrotrans.Audio.Render;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>A print in another number of channels, or one channel of it, and at another level; less than 0 turns its polarity over.</summary>
public sealed class FoldedPrint(IPrint inner, int channels, int? channel, double gain) : IPrint
{
    private double[][] _all = [];

    public int Channels => channels;

    public void Read(long at, int count, double[][] into)
    {
        if (_all.Length == 0 || _all[0].Length < count)
        {
            _all = Enumerable.Range(0, inner.Channels).Select(_ => new double[count]).ToArray();
        }

        inner.Read(at, count, _all);
        if (channel is { } one)
        {
            _all[one].AsSpan(0, count).CopyTo(into[0]);
        }
        else
        {
            ChannelFold.Apply(_all, inner.Channels, into, channels, count);
        }

        if (gain == 1)
        {
            return;
        }

        for (var c = 0; c < channels; c++)
        {
            TensorPrimitives.Multiply(into[c].AsSpan(0, count), gain, into[c]);
        }
    }

    public void Dispose() => inner.Dispose();
}
