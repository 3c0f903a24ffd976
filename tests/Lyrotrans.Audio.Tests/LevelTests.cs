using CsCheck;
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
        using var source = new ArraySource(sound, SampleRate.Hz48000);
        return SoundAnalysis.Measure(source, CancellationToken.None).Levels;
    }

    [Theory]
    [InlineData(-23)]
    [InlineData(-33)]
    public void Loudness_of_the_first_test_signals_is_theirs(double level)
    {
        // EBU Tech 3341, cases 1 and 2: 20 s of 1 kHz in both channels.
        var sine = Sine.Make(1000, Rate, 20 * Rate, Math.Pow(10, level / 20));
        var levels = Measure(sine, sine);
        Assert.Equal(level, levels.Loudness!.Value, 0.1);
        Assert.Equal(level, levels.PeakDb, 0.01);
        Assert.Equal(1, levels.Correlation!.Value, 1e-9);
        Assert.True(levels.IsMonoInStereo);
    }

    [Fact]
    public void Loudness_of_more_than_two_channels_is_not_measured_because_nothing_says_where_they_stand()
    {
        var sine = Sine.Make(1000, Rate, 5 * Rate, 0.1);
        var levels = Measure(sine, sine, sine, sine);
        Assert.Null(levels.Loudness);
        Assert.Null(levels.LoudnessRange);
        Assert.Equal(-20, levels.PeakDb, 0.01);
        Assert.Equal(-20, Measure(sine, sine).Loudness!.Value, 0.1);
    }

    [Theory]
    [InlineData(4, 0, 0.5, -6)]
    [InlineData(4, 45, 0.5, -6)]
    [InlineData(6, 60, 0.5, -6)]
    [InlineData(8, 67.5, 0.5, -6)]
    [InlineData(4, 45, 1.41, 3)]
    public void The_true_peak_of_the_test_signals_is_theirs(int periodSamples, double degrees, double amplitude, double peakDb)
    {
        // EBU Tech 3341, cases 15 to 19: at most 0.2 dB above and 0.4 dB below.
        var levels = Measure(FadedSine(1.0 / periodSamples, degrees, amplitude, Rate));
        Assert.InRange(levels.TruePeakDb, peakDb - 0.4, peakDb + 0.2);
        Assert.Null(levels.Correlation);
    }

    [Theory]
    [InlineData(0.001)]
    [InlineData(0.5)]
    [InlineData(1)]
    [InlineData(1.41)]
    public void At_a_quarter_of_the_rate_and_45_degrees_the_true_peak_is_within_a_tenth_of_theory(double amplitude)
    {
        foreach (var rate in new[] { SampleRate.Hz44100, SampleRate.Hz48000, new SampleRate(96_000) })
        {
            using var source = new ArraySource([FadedSine(0.25, 45, amplitude, 48_000)], rate);
            var levels = SoundAnalysis.Measure(source, CancellationToken.None).Levels;
            Assert.Equal(Decibels.FromRatio(amplitude), levels.TruePeakDb, 0.01);
            Assert.Equal(Decibels.FromRatio(amplitude) - 3.01, levels.PeakDb, 0.01);
        }
    }

    [Fact]
    public void A_true_peak_is_found_wherever_it_lies_and_is_never_below_the_samples() => Gen.Select(Gen.Double[0.001, 0.4], Gen.Double[0, 360], Gen.Double[0.01, 2], Gen.Int[0, 3]).Sample(
        (frequency, degrees, amplitude, loudAt) =>
        {
            // Loud in one of four places, so that quiet stretches are passed over before and after it.
            var sound = Enumerable.Range(0, 4).SelectMany(part => FadedSine(frequency, degrees, part == loudAt ? amplitude : amplitude / 5, 4000)).ToArray();
            var levels = Measure(sound);

            // Four values a sample lie at most an eighth of a sample off the crest.
            var lowest = Decibels.FromRatio(amplitude * Math.Cos(Math.PI * frequency / 4));
            return levels.TruePeakDb >= lowest - 0.1 && levels.TruePeakDb <= Decibels.FromRatio(amplitude) + 0.1 && levels.TruePeakDb >= levels.PeakDb;
        },
        iter: 200);

    [Fact]
    public void A_peak_after_the_last_sample_is_found()
    {
        var sound = new double[1000];
        (sound[^2], sound[^1]) = (0.5, 0.5);
        var levels = Measure(sound);
        Assert.InRange(levels.TruePeakDb, Decibels.FromRatio(0.62), Decibels.FromRatio(0.64));
    }

    private static double[] FadedSine(double cyclesPerSample, double degrees, double amplitude, int count) => Enumerable.Range(0, count)
        .Select(i => amplitude * Math.Min(1, Math.Min(i, count - 1 - i) / 500.0) * Math.Sin((2 * Math.PI * cyclesPerSample * i) + (degrees * Math.PI / 180))).ToArray();

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
            new PcmEncoder(SampleEncoding.Integer16, Dither.Of(noise, "t")).Encode([sound], 1, sound.Length, bytes);
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
