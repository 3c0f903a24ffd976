using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Rates;

/// <summary>
/// Converts a stretch of sound to another rate with libsoxr: very high quality, linear phase, its delay taken off, so that sample n lies at n × ratio.
/// </summary>
internal static class Resampler
{
    /// <param name="from">Rate of the input.</param>
    /// <param name="to">Rate of the output.</param>
    /// <param name="input">Interleaved frames; silence is around them.</param>
    /// <param name="output">Interleaved; filled from the place of the first frame on. What the input does not reach is left as it is.</param>
    /// <exception cref="InvalidOperationException">libsoxr does not convert between these rates.</exception>
    public static unsafe void Run(SampleRate from, SampleRate to, int channels, ReadOnlySpan<double> input, Span<double> output)
    {
        var io = new Soxr.IoSpec { InputType = Soxr.Float64Interleaved, OutputType = Soxr.Float64Interleaved, Scale = 1 };
        var quality = NativeCall.Of("libsoxr", Soxr.Package, () => Soxr.Quality(Soxr.VeryHighQuality, Soxr.NoRollOff | Soxr.ExactClock));
        var resampler = Soxr.Create(from.PerSecond.ToDouble(), to.PerSecond.ToDouble(), (uint)channels, out var error, io, quality, 0);
        if (resampler == 0 || error != 0)
        {
            throw new InvalidOperationException($"The rate {from} cannot be converted to {to}.");
        }

        try
        {
            fixed (double* source = input, target = output)
            {
                var (taken, made, frames, wanted) = (0, 0, input.Length / channels, output.Length / channels);
                while (made < wanted)
                {
                    var left = frames - taken;
                    Soxr.Process(
                        resampler, left == 0 ? null : source + ((long)taken * channels), (nuint)left, out var used,
                        target + ((long)made * channels), (nuint)(wanted - made), out var got);
                    taken += (int)used;
                    made += (int)got;
                    if (used == 0 && got == 0)
                    {
                        break;
                    }
                }
            }
        }
        finally
        {
            Soxr.Delete(resampler);
        }
    }
}
