namespace Lyrotrans.Audio.Sources;

/// <summary>Reads a whole sound, block after block.</summary>
public static class SampleBlocks
{
    /// <param name="source">Read from its first sample to its last.</param>
    /// <param name="block">Samples of each channel at a time; the last time fewer.</param>
    /// <param name="take">Is given each block, channel by channel, and how many samples of it count. The arrays are used again.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public static void Each(this ISampleSource source, int block, Action<double[][], int> take, CancellationToken stop)
    {
        var planar = Enumerable.Range(0, source.Channels).Select(_ => new double[block]).ToArray();
        for (long at = 0; at < source.Length; at += block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(block, source.Length - at);
            source.Read(at, count, planar);
            take(planar, count);
        }
    }
}
