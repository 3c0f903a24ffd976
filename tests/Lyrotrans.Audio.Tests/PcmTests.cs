using CsCheck;
using Lyrotrans.Audio.Decoding;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

[Collection("decoders")]
public class PcmTests
{
    [Theory]
    [InlineData(SampleEncoding.Unsigned8)]
    [InlineData(SampleEncoding.Integer16)]
    [InlineData(SampleEncoding.Integer24)]
    [InlineData(SampleEncoding.Integer32)]
    [InlineData(SampleEncoding.Float64)]
    public void Every_bit_pattern_goes_through_unchanged(SampleEncoding encoding) => Gen.Byte.Array[1, 200].Sample(raw =>
    {
        var channels = 1 + (raw[0] % 3);
        var frame = encoding.Bytes() * channels;
        var bytes = raw[..(raw.Length / frame * frame)];
        if (encoding == SampleEncoding.Float64)
        {
            // Patterns that are no number become silence on purpose; keep to finite ones.
            for (var i = 7; i < bytes.Length; i += 8)
            {
                bytes[i] = (byte)(bytes[i] & 0x3F);
            }
        }

        var planar = Enumerable.Range(0, channels).Select(_ => new double[bytes.Length / frame]).ToArray();
        PcmDecoder.Decode(bytes, encoding, false, channels, planar, 0);
        var back = new byte[bytes.Length];
        new PcmEncoder(encoding).Encode(planar, channels, bytes.Length / frame, back);
        return back.AsSpan().SequenceEqual(bytes);
    });

    [Theory]
    [InlineData(SampleEncoding.Unsigned8, DitherNoise.Flat)]
    [InlineData(SampleEncoding.Integer16, DitherNoise.Flat)]
    [InlineData(SampleEncoding.Integer16, DitherNoise.Shaped)]
    [InlineData(SampleEncoding.Integer24, DitherNoise.Shaped)]
    public void What_noise_hides_shows_when_the_noise_is_known(SampleEncoding encoding, DitherNoise noise) => Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[1, 700], Gen.Int[1, 3]).Sample((seed, block, channels) =>
    {
        // Some of it is beyond full scale.
        const int Frames = 4000;
        var sound = Enumerable.Range(0, channels).Select(c => Sine.Noise(Frames, seed + c, 1.02)).ToArray();
        var dither = Dither.Of(noise, $"print {seed}");
        var bytes = new byte[Frames * channels * encoding.Bytes()];
        new PcmEncoder(encoding, dither).Encode(sound, channels, Frames, bytes);
        var found = Enumerable.Range(0, channels).Select(_ => new double[Frames]).ToArray();
        PcmDecoder.Decode(bytes, encoding, false, channels, found, 0);
        var step = Math.Pow(2, 1 - encoding.Bits());
        var lost = false;
        double Worst(Func<int, double, double> meant, Dither with)
        {
            var check = new RoundingCheck(encoding, with, channels);
            for (var at = 0; at < Frames; at += block)
            {
                var count = Math.Min(block, Frames - at);
                check.Take([.. sound.Select(s => s.AsSpan(at, count).ToArray().Select((v, i) => meant(at + i, v)).ToArray())], [.. found.Select(f => f.AsSpan(at, count).ToArray())], count);
            }

            lost |= check.IsLost;
            return check.Worst;
        }

        var same = Worst((_, v) => v, dither);
        Assert.InRange(same, lost ? 0 : 0.4, 0.5 + 1e-9);

        // What another machine's arithmetic may add: some 10⁻¹³ of full scale. Shaped noise makes more of it, since errors are handed on.
        var other = noise == DitherNoise.Shaped ? 1e-6 : 5e-4;
        var near = Worst((i, v) => v + (step * other * Math.Sin(i)), dither);
        Assert.InRange(near, lost ? 0 : 0.4, 0.501);
        Assert.True(Worst((_, v) => v + (step * 0.02), dither) > 0.501 || lost);
        Assert.True(Worst((_, v) => v, Dither.Of(noise, "another")) > 0.9 || lost);
        Assert.False(lost && noise == DitherNoise.Flat);
        return double.IsPositiveInfinity(Worst((i, v) => i == 77 ? double.NaN : v, dither)) || lost;
    }, iter: Cases.Of(120));

    [Fact]
    public void Big_and_little_endian_are_the_same_sound()
    {
        foreach (var encoding in new[] { SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Integer32, SampleEncoding.Float32 })
        {
            byte[] little = [.. new byte[] { 1, 2, 3, 60 }.Take(encoding.Bytes())];
            var (a, b) = (new double[][] { new double[1] }, new double[][] { new double[1] });
            PcmDecoder.Decode(little, encoding, false, 1, a, 0);
            PcmDecoder.Decode(little.Reverse().ToArray(), encoding, true, 1, b, 0);
            Assert.NotEqual(0, a[0][0]);
            Assert.Equal(a[0][0], b[0][0]);
        }
    }

    [Fact]
    public void Above_full_scale_an_integer_is_held_and_counted()
    {
        var encoder = new PcmEncoder(SampleEncoding.Integer16);
        var bytes = new byte[6];
        encoder.Encode([[1.5, -1.5, 0.5]], 1, 3, bytes);
        Assert.Equal([0xFF, 0x7F, 0x00, 0x80, 0x00, 0x40], bytes);
        Assert.Equal(2, encoder.Overs);
    }

    [Fact]
    public void Dither_is_triangular_flat_and_repeatable()
    {
        const int count = 200_000;
        double[] Errors(double value)
        {
            var bytes = new byte[count * 2];
            new PcmEncoder(SampleEncoding.Integer16, Dither.Of(DitherNoise.Flat, "t")).Encode([Enumerable.Repeat(value, count).ToArray()], 1, count, bytes);
            return Enumerable.Range(0, count).Select(i => BitConverter.ToInt16(bytes, i * 2) - (value * 32768)).ToArray();
        }

        foreach (var value in new[] { 0, 0.3 / 32768, 0.5 / 32768 })
        {
            var errors = Errors(value);
            Assert.InRange(errors.Average(), -0.01, 0.01);

            // TPDF of ±1 step and rounding: a variance of 1/4 step², whatever the signal.
            Assert.InRange(errors.Average(e => e * e), 0.245, 0.255);
            Assert.True(errors.Max(Math.Abs) <= 1.5);
        }

        Assert.Equal(Errors(0.1), Errors(0.1));
    }

    private static double[][] Noise(Dither dither, int channels, int count, int block)
    {
        var encoder = new PcmEncoder(SampleEncoding.Integer16, dither);
        var (bytes, back) = (new byte[2 * channels * count], Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray());
        for (var at = 0; at < count; at += block)
        {
            encoder.Encode([.. back.Select(_ => new double[block])], channels, Math.Min(block, count - at), bytes.AsSpan(2 * channels * at));
        }

        PcmDecoder.Decode(bytes, SampleEncoding.Integer16, false, channels, back, 0);
        return [.. back.Select(c => c.Select(v => v * 32_768).ToArray())];
    }

    [Theory]
    [InlineData(DitherNoise.Flat, 0.25)]
    [InlineData(DitherNoise.Shaped, 1.2)]
    public void Files_and_channels_share_no_noise_and_their_sum_is_that_of_powers(DitherNoise noise, double steps)
    {
        const int Count = 1 << 16, Files = 24;
        var all = Enumerable.Range(0, Files).SelectMany(i => Noise(Dither.Of(noise, $"track {i}"), 2, Count, 1000)).ToArray();
        Assert.All(all, a => Assert.InRange(a.Average(v => v * v), steps * 0.7, steps * 1.3));

        // 48 of one noise would be 33.6 dB above one, 48 of their own are 16.8 dB.
        var sum = Enumerable.Range(0, Count).Average(i => Math.Pow(all.Sum(a => a[i]), 2)) / all.Average(a => a.Average(v => v * v));
        Assert.Equal(10 * Math.Log10(2 * Files), 10 * Math.Log10(sum), 0.3);

        // Nor the same noise a little later: by many correlations, none of which chance makes so large.
        var most = Enumerable.Range(1, 30).Max(lag => Enumerable.Range(1, Files - 1).Max(f => Math.Abs(Enumerable.Range(0, Count - 64).Average(i => all[0][i] * all[f][i + lag])))) / all[0].Average(v => v * v);
        Assert.True(most < 6 / Math.Sqrt(Count), $"{most}");
    }

    [Fact]
    public void Noise_depends_on_its_facts_alone_and_not_on_how_many_samples_are_made_at_once()
    {
        var dither = Dither.Of(DitherNoise.Flat, "a track");
        Assert.Equal(Noise(dither, 2, 5000, 5000), Noise(dither, 2, 5000, 13));
        Assert.Equal(Noise(dither, 2, 5000, 77)[0], Noise(dither, 1, 5000, 5000)[0]);
        Assert.NotEqual(Noise(dither, 1, 5000, 77)[0], Noise(Dither.Of(DitherNoise.Flat, "another"), 1, 5000, 77)[0]);

        // As it was first written: a change of these changes every dithered file.
        Assert.Equal(17_849_769_955_735_473_397, dither.Seed);
    }

    [Fact]
    public void Flac_comes_back_to_the_bit()
    {
        var path = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.flac");
        try
        {
            var dice = new Random(5);
            var sound = Enumerable.Range(0, 2).Select(_ => Enumerable.Range(0, 5000).Select(_ => dice.Next(-8_388_608, 8_388_608) / 8_388_608.0).ToArray()).ToArray();
            using (var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 2, SampleEncoding.Integer24, Dither.None, "starts at 10:00:00:00"))
            {
                writer.Write(sound, 5000);
                writer.Finish();
            }

            using var source = CodedSource.Open(path, "t.flac");
            Assert.Equal((2, 5000L, SampleEncoding.Integer24), (source.Channels, source.Length, source.Encoding));
            var back = new double[][] { new double[100], new double[100] };
            foreach (var start in new long[] { 0, 4000, 123, -50, 4950 })
            {
                source.Read(start, 100, back);
                for (var i = 0; i < 100; i++)
                {
                    var at = start + i;
                    Assert.Equal(at is < 0 or >= 5000 ? 0 : sound[1][at], back[1][i]);
                }
            }
        }
        finally
        {
            File.Delete(path);
        }
    }
}
