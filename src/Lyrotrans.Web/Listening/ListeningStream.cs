using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Web.Listening;

/// <summary>Sound as a WAVE file of one or two channels of 16 bits, which every browser plays while it comes.</summary>
public static class ListeningStream
{
    /// <summary>A difference is raised by 60 dB, or nobody would hear what rounding leaves.</summary>
    public const double Raised = 1000;

    // A twentieth of a second or so first, so that the browser begins; then twice as much each time.
    private const int FirstBlock = 2048;

    public static void Write(Stream output, SampleRate rate, int channels, long frames, Action<long, int, double[][]> read, CancellationToken stop)
    {
        var heard = Math.Min(2, channels);
        var layout = new PcmLayout(SampleEncoding.Integer16, false, heard, rate, 0, frames);
        output.Write(WaveWriter.Head(layout));
        var encoder = new PcmEncoder(SampleEncoding.Integer16, Dither.Of(DitherNoise.Flat, "listening"));
        var samples = Printing.Planar(channels);
        var bytes = new byte[Printing.Block * layout.BytesPerFrame];
        var block = FirstBlock;
        for (long at = 0; at < frames;)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(block, frames - at);
            read(at, count, samples);
            output.Write(bytes, 0, encoder.Encode(samples, heard, count, bytes));
            output.Flush();
            (at, block) = (at + count, Math.Min(2 * block, Printing.Block));
        }
    }
}
