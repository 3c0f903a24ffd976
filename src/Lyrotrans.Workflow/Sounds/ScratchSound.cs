using System.Runtime.InteropServices;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Sound that was made once, in 64-bit floating point in a scratch file, to be read by all that need it; deleted with this.</summary>
public sealed class ScratchSound : IDisposable
{
    private const int Block = 16_384;
    private readonly string _path;
    private readonly PcmLayout _layout;
    private readonly long _start;

    private ScratchSound(string path, PcmLayout layout, long start)
    {
        _path = path;
        _layout = layout;
        _start = start;
    }

    /// <param name="scratch">A local folder.</param>
    /// <param name="rate">Of the session.</param>
    /// <param name="channels">Of the sound.</param>
    /// <param name="range">Session samples that it has; outside there is silence.</param>
    /// <param name="sound">What is written, front to back.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <exception cref="IOException">There is no room for it.</exception>
    public static ScratchSound Write(string scratch, SampleRate rate, int channels, SampleRange range, ITrackSound sound, CancellationToken stop = default)
    {
        var layout = new PcmLayout(SampleEncoding.Float64, false, channels, rate, 0, Math.Max(0, range.Length));
        Directory.CreateDirectory(scratch);
        var made = new ScratchSound(Path.Combine(scratch, $"{Guid.NewGuid():N}.sound"), layout, range.Start);
        try
        {
            made.Fill(sound, stop);
            return made;
        }
        catch
        {
            made.Dispose();
            throw;
        }
    }

    /// <summary>Bytes that a sound takes.</summary>
    public static long BytesOf(int channels, SampleRange range) => range.Length * channels * sizeof(double);

    /// <summary>The sound, to be read from any place on.</summary>
    public ITrackSound Open() => new Reader(new PcmSource(File.OpenRead(_path), _layout), _start);

    /// <summary>The sound as a source whose first frame is the first sample of its range.</summary>
    public ISampleSource Source() => new PcmSource(File.OpenRead(_path), _layout);

    public void Dispose() => File.Delete(_path);

    private void Fill(ITrackSound sound, CancellationToken stop)
    {
        using var output = File.Create(_path);
        var channels = _layout.Channels;
        var planar = Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();
        var frames = new double[Block * channels];
        for (long at = 0; at < _layout.Frames; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, _layout.Frames - at);
            sound.Read(_start + at, count, planar);
            for (var i = 0; i < count * channels; i++)
            {
                frames[i] = planar[i % channels][i / channels];
            }

            output.Write(MemoryMarshal.AsBytes(frames.AsSpan(0, count * channels)));
        }
    }

    private sealed class Reader(PcmSource source, long start) : ITrackSound
    {
        public void Read(long at, int count, double[][] into) => source.Read(at - start, count, into);

        public void Dispose() => source.Dispose();
    }
}
