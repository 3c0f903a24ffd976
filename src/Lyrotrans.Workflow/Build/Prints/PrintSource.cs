using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>A print that is read forwards as a source of which the last stretch can be read again, as converting it to another rate needs.</summary>
/// <param name="print">Its frame 0 is the source's; closed with this.</param>
/// <param name="rate">The session's.</param>
/// <param name="length">In session samples.</param>
/// <param name="window">Samples before the last one read that can be read again, at least.</param>
internal sealed class PrintSource(IPrint print, SampleRate rate, long length, int window) : ISampleSource
{
    private readonly double[][] _block = Printing.Planar(print.Channels);
    private double[][] _kept = [];
    private long _from;
    private int _count;

    public int Channels => print.Channels;

    public long Length => length;

    public SampleRate Rate => rate;

    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var (from, end) = (Math.Max(0, start), Math.Min(start + count, length));
        if (end <= from)
        {
            return;
        }

        if (from < _from)
        {
            throw new InvalidOperationException($"Sample {from} was read too long ago: the window begins at {_from}.");
        }

        Take(end);
        for (var c = 0; c < Channels; c++)
        {
            _kept[c].AsSpan((int)(from - _from), (int)(end - from)).CopyTo(into[c].AsSpan((int)(from - start)));
        }
    }

    public void Dispose() => print.Dispose();

    private void Take(long end)
    {
        while (_from + _count < end)
        {
            var count = (int)Math.Min(Printing.Block, end - _from - _count);
            Room(count, end);
            print.Read(_from + _count, count, _block);
            for (var c = 0; c < Channels; c++)
            {
                _block[c].AsSpan(0, count).CopyTo(_kept[c].AsSpan(_count));
            }

            _count += count;
        }
    }

    // What is older than the window, counted from where is read to, goes.
    private void Room(int count, long end)
    {
        var size = _kept.Length == 0 ? 0 : _kept[0].Length;
        if (_count + count <= size)
        {
            return;
        }

        var old = (int)Math.Clamp(end - window - _from, 0, _count);
        var kept = (int)Math.Max(size, 2L * (_count - old + count));
        var moved = Enumerable.Range(0, Channels).Select(_ => new double[kept]).ToArray();
        for (var c = 0; c < Channels && size > 0; c++)
        {
            _kept[c].AsSpan(old, _count - old).CopyTo(moved[c]);
        }

        (_kept, _from, _count) = (moved, _from + old, _count - old);
    }
}
