using Lyrotrans.Audio.Native;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// Converts a whole source to another rate with libsoxr: linear phase, its delay taken off, so that source sample n lies at
/// n × ratio. The result has the rounded exact length.
/// </summary>
public static class RateConverter
{
    private const int Block = 16_384;

    /// <summary>Writes interleaved 64-bit floats to <paramref name="output"/> and says how they lie.</summary>
    public static unsafe PcmLayout Convert(ISampleSource source, SampleRate to, Stream output, CancellationToken stop)
    {
        var channels = source.Channels;
        var wanted = source.Rate.Convert(source.Length, to);
        var io = new Soxr.IoSpec { InputType = Soxr.Float64Interleaved, OutputType = Soxr.Float64Interleaved, Scale = 1 };
        var quality = NativeCall.Of("libsoxr", Soxr.Package, () => Soxr.Quality(Soxr.VeryHighQuality, 0));
        var resampler = Soxr.Create(
            source.Rate.PerSecond.ToDouble(), to.PerSecond.ToDouble(), (uint)channels, out var error, io, quality, 0);
        if (resampler == 0 || error != 0)
        {
            throw new InvalidOperationException($"The rate {source.Rate} cannot be converted to {to}.");
        }

        try
        {
            var planar = Planar(channels, Block);
            var input = new double[Block * channels];
            var made = new double[Block * channels * 2];
            var written = 0L;
            for (long at = 0; written < wanted;)
            {
                stop.ThrowIfCancellationRequested();
                var count = (int)Math.Min(Block, source.Length - at);
                if (count > 0)
                {
                    source.Read(at, count, planar);
                    Interleave(planar, channels, count, input);
                }

                at += Feed(resampler, input, count, channels, made, wanted, ref written, output);
            }

            return new PcmLayout(SampleEncoding.Float64, false, channels, to, 0, wanted);
        }
        finally
        {
            Soxr.Delete(resampler);
        }
    }

    private static unsafe int Feed(nint resampler, double[] input, int count, int channels, double[] made, long wanted, ref long written, Stream output)
    {
        var taken = 0;
        fixed (double* from = input, to = made)
        {
            do
            {
                Soxr.Process(
                    resampler, count == 0 ? null : from + (taken * channels), (nuint)(count - taken), out var used,
                    to, (nuint)(made.Length / channels), out var got);
                taken += (int)used;
                var keep = (int)Math.Min((long)got, wanted - written);
                output.Write(System.Runtime.InteropServices.MemoryMarshal.AsBytes(made.AsSpan(0, keep * channels)));
                written += keep;
                if (got == 0 && count == 0)
                {
                    // Drained before the rounded length was reached: at most a sample or two of silence.
                    output.Write(new byte[(wanted - written) * channels * sizeof(double)]);
                    written = wanted;
                }

                if (got == 0 && used == 0)
                {
                    break;
                }
            }
            while (taken < count);
        }

        return taken;
    }

    private static double[][] Planar(int channels, int count) => Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray();

    private static void Interleave(double[][] planar, int channels, int count, double[] into)
    {
        for (var c = 0; c < channels; c++)
        {
            for (var i = 0; i < count; i++)
            {
                into[(i * channels) + c] = planar[c][i];
            }
        }
    }
}
