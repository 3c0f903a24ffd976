using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class LevelTests
{
    private const int Rate = 48_000;

    private static SoundLevels Measure(params double[][] sound)
    {
        using var meter = new LevelMeter(sound.Length, SampleRate.Hz48000);
        for (var at = 0; at < sound[0].Length; at += 5000)
        {
            var count = Math.Min(5000, sound[0].Length - at);
            meter.Take([.. sound.Select(c => c[at..(at + count)])], count);
        }

        return meter.Result();
    }

    [Theory]
    [InlineData(-23)]
    [InlineData(-33)]
    public void Loudness_of_the_first_test_signals_is_theirs(double level)
    {
        // EBU Tech 3341, cases 1 and 2: 20 s of 1 kHz in both channels.
        var sine = Sine.Make(1000, Rate, 20 * Rate, Math.Pow(10, level / 20));
        var levels = Measure(sine, sine);
        Assert.Equal(level, levels.Loudness, 0.1);
        Assert.Equal(level, levels.PeakDb, 0.01);
        Assert.Equal(1, levels.Correlation!.Value, 1e-9);
        Assert.True(levels.IsMonoInStereo);
    }

    [Fact]
    public void A_peak_between_samples_is_found()
    {
        // A quarter of the rate, 45° off: samples lie at 0.707 of the crest (EBU Tech 3341, case 17 and on).
        var sound = Enumerable.Range(0, Rate).Select(i => 0.99 * Math.Sin((Math.PI / 2 * i) + (Math.PI / 4))).ToArray();
        var levels = Measure(sound);
        Assert.Equal(-3.1, levels.PeakDb, 0.05);
        Assert.Equal(-0.09, levels.TruePeakDb, 0.3);
        Assert.Null(levels.Correlation);
    }

    [Fact]
    public void What_is_out_of_line_is_named()
    {
        var (sine, quiet) = (Sine.Make(440, Rate, Rate, 0.3), new double[Rate]);
        Assert.Equal(["silent"], Measure(quiet).Marks);
        Assert.Contains("DC offset", Measure([.. sine.Select(v => v + 0.01)]).Marks);
        Assert.Contains("channels against each other", Measure(sine, [.. sine.Select(v => -v)]).Marks);
        Assert.Contains("clips", Measure([.. sine.Select(v => Math.Clamp(v * 9, -1, 1))]).Marks);
        Assert.Contains("same in both channels", Measure(sine, [.. sine.Select(v => v + 2e-5)]).Marks);
        Assert.DoesNotContain("same in both channels", Measure(sine, [.. sine.Select(v => v + 2e-4)]).Marks);
        var levels = Measure([.. quiet, .. sine, .. quiet]);
        Assert.Equal((Rate + 1, (2 * Rate)), (levels.FirstSound, levels.EndOfSound));
    }

    [Fact]
    public void Flat_dither_is_white_and_shaped_dither_lies_high()
    {
        double[] Error(DitherNoise noise)
        {
            var sound = Sine.Make(997, Rate, 1 << 16, 0.25);
            var (bytes, back) = (new byte[sound.Length * 2], new double[][] { new double[sound.Length] });
            new PcmEncoder(SampleEncoding.Integer16, noise).Encode([sound], 1, sound.Length, bytes);
            PcmDecoder.Decode(bytes, SampleEncoding.Integer16, false, 1, back, 0);
            return [.. back[0].Zip(sound, (a, b) => (a - b) * 32_768)];
        }

        // Power of the error in bands, by sines under a window.
        static double Band(double[] error, int from, int to) => Enumerable.Range(0, 60).Average(i => Math.Pow(Sine.Fit(error, from + ((to - from) * i / 60.0), Rate).Level, 2));
        var (flat, shaped) = (Error(DitherNoise.Flat), Error(DitherNoise.Shaped));
        Assert.Equal(0, 10 * Math.Log10(Band(flat, 200, 4000) / Band(flat, 16_000, 22_000)), 1.5);
        Assert.Equal(0.25, flat.Average(e => e * e), 0.01);
        Assert.True(10 * Math.Log10(Band(shaped, 200, 4000) / Band(flat, 200, 4000)) < -6);
        Assert.True(Band(shaped, 16_000, 22_000) > Band(flat, 16_000, 22_000) * 2);
        Assert.All(shaped, e => Assert.True(Math.Abs(e) <= PcmEncoder.MostSteps(DitherNoise.Shaped)));
    }
}
