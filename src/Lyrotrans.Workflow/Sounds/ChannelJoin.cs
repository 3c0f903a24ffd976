using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Makes one file of the channels of several: every sample as it is, side by side.</summary>
public static class ChannelJoin
{
    private const int Block = 1 << 15;

    /// <param name="from">Media with their paths and a channel (from 0) of each; alike in rate and encoding; the shorter end in silence.</param>
    /// <param name="output">Gets a WAVE file.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static void Write(IReadOnlyList<(Media Media, IStoredFile File, int Channel)> from, Stream output, CancellationToken stop)
    {
        var files = from.Select(f => SoundFile.Open(f.File, f.Media.FileName)).ToList();
        try
        {
            var first = from[0].Media;
            var layout = new PcmLayout(first.Encoding == SampleEncoding.Signed8 ? SampleEncoding.Unsigned8 : first.Encoding, false, from.Count, first.Rate, 0, from.Max(f => f.Media.Length));
            output.Write(WaveWriter.Head(layout, first.TimeReference is { } stamp ? new BroadcastExtension(first.FileName, "Lyrotrans", stamp) : null));
            var encoder = new PcmEncoder(layout.Encoding);
            var samples = Enumerable.Range(0, from.Count).Select(_ => new double[Block]).ToArray();
            var bytes = new byte[Block * layout.BytesPerFrame];
            var scratch = files.Select(f => Enumerable.Range(0, f.Source.Channels).Select(_ => new double[Block]).ToArray()).ToList();
            for (long at = 0; at < layout.Frames; at += Block)
            {
                stop.ThrowIfCancellationRequested();
                var count = (int)Math.Min(Block, layout.Frames - at);
                for (var i = 0; i < files.Count; i++)
                {
                    files[i].Source.Read(at, count, scratch[i]);
                    samples[i] = scratch[i][from[i].Channel];
                }

                output.Write(bytes, 0, encoder.Encode(samples, from.Count, count, bytes));
            }

            if ((layout.DataBytes & 1) == 1)
            {
                output.WriteByte(0);
            }
        }
        finally
        {
            files.ForEach(f => f.Dispose());
        }
    }

    /// <summary>How alike two sounds are over a stretch of each, from −1 to 1; null where either is silent there.</summary>
    public static double? Likeness(ISampleSource a, int channelA, long startA, ISampleSource b, int channelB, long startB, int count)
    {
        var (one, two) = (Planes(a, count), Planes(b, count));
        a.Read(startA, count, one);
        b.Read(startB, count, two);
        var (x, y) = (one[channelA], two[channelB]);
        double xy = 0, xx = 0, yy = 0;
        for (var i = 0; i < count; i++)
        {
            xy += x[i] * y[i];
            xx += x[i] * x[i];
            yy += y[i] * y[i];
        }

        return xx > 0 && yy > 0 ? xy / Math.Sqrt(xx * yy) : null;
    }

    private static double[][] Planes(ISampleSource source, int count) => Enumerable.Range(0, source.Channels).Select(_ => new double[count]).ToArray();
}
