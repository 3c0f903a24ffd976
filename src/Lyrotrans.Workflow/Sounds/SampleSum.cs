using System.IO.Hashing;
using System.Runtime.InteropServices;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>
/// A sum over the samples of a source that is read once, from its beginning to its end: two files whose samples are equal have the same, whatever holds them and
/// however many bits they are stored in. It tells what is equal by accident, and stands for nothing that somebody could want to forge.
/// </summary>
/// <param name="source">What is read; not closed with this.</param>
internal sealed class SampleSum(ISampleSource source) : ISampleSource
{
    private readonly XxHash128[] _sums = [.. Enumerable.Range(0, source.Channels).Select(_ => new XxHash128())];
    private long _read;
    private bool _sounds;

    public int Channels => source.Channels;

    public long Length => source.Length;

    public SampleRate Rate => source.Rate;

    /// <summary>The sum; null where every sample was 0, or not all were read.</summary>
    public string? Value => _sounds && _read == Length ? Convert.ToHexStringLower(XxHash128.Hash([.. _sums.SelectMany(s => s.GetCurrentHash())])) : null;

    /// <exception cref="InvalidOperationException">It is not read on from where it was.</exception>
    public void Read(long start, int count, double[][] into)
    {
        if (start != _read)
        {
            throw new InvalidOperationException("Samples are summed from their beginning on.");
        }

        source.Read(start, count, into);
        for (var c = 0; c < Channels; c++)
        {
            var samples = into[c].AsSpan(0, count);
            _sums[c].Append(MemoryMarshal.AsBytes(samples));
            _sounds = _sounds || samples.ContainsAnyExcept(0.0);
        }

        _read += count;
    }

    public void Dispose()
    {
    }
}
