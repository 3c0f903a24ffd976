using CsCheck;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class RateTests
{
    private static double[] Convert(double[] sound, SampleRate from, SampleRate to)
    {
        using var source = new ConvertedSource(new ArraySource([sound], from), to);
        double[][] made = [new double[source.Length]];
        source.Read(0, made[0].Length, made);
        return made[0];
    }

    [Fact]
    public void It_does_not_matter_where_reading_begins_nor_how_far_a_stretch_reaches() => Gen.Select(
        Gen.OneOf(Gen.Const(44_100), Gen.Const(96_000), Gen.Const(22_050), Gen.Const(88_200), Gen.Const(192_000)), Gen.Int[0, 290_000], Gen.Int[1, 9000], Gen.Int[1, 99]).Sample(
        (rate, start, count, seed) =>
        {
            var dice = new Random(seed);
            double[][] sound = [Noise(dice, 300_000), Noise(dice, 300_000)];
            var (from, to) = (SampleRate.FromHz(rate), SampleRate.Hz48000);
            using var all = new ConvertedSource(new ArraySource(sound, from), to);
            using var part = new ConvertedSource(new ArraySource(sound, from), to);
            double[][] whole = [new double[all.Length], new double[all.Length]], piece = [new double[count], new double[count]];
            all.Read(0, whole[0].Length, whole);
            part.Read(start, count, piece);

            // libsoxr over everything at once, with silence around it that is whole at both rates: ten times what the stretches have.
            var ratio = to.PerSecond / from.PerSecond;
            var units = (25_000 / (int)ratio.Numerator) + 1;
            var (quiet, lead) = (new double[2 * units * (int)ratio.Denominator], 2 * units * (int)ratio.Numerator);
            var direct = new double[lead + (2 * all.Length)];
            Resampler.Run(from, to, 2, [.. quiet, .. sound[0].Zip(sound[1], (a, b) => new[] { a, b }).SelectMany(f => f), .. quiet], direct);
            for (var c = 0; c < 2; c++)
            {
                for (var i = 0; i < count; i++)
                {
                    if (piece[c][i] != (start + i < all.Length ? whole[c][start + i] : 0) || Math.Abs(piece[c][i] - (start + i < all.Length ? direct[lead + (2 * (start + i)) + c] : 0)) > 1e-9)
                    {
                        return false;
                    }
                }
            }

            return true;
        },
        iter: 12);

    [Fact]
    public void A_ratio_of_very_long_spans_is_kept_within_a_thousandth_of_a_sample()
    {
        var odd = new SampleRate(new Rational(44_100_000_007, 1_000_003));
        var sound = Enumerable.Range(0, 400_000).Select(i => Math.Exp(-Math.Pow((i - 350_000) / 20.0, 2))).ToArray();
        var made = Convert(sound, odd, SampleRate.Hz48000);
        Assert.Equal(odd.Convert(400_000, SampleRate.Hz48000), made.Length);
        Assert.Equal(350_000 * (48_000 / odd.PerSecond.ToDouble()), Centre(made), 0.001);
    }

    private static double[] Noise(Random dice, int count) => Enumerable.Range(0, count).Select(_ => (dice.NextDouble() * 1.6) - 0.8).ToArray();

    [Theory]
    [InlineData(44_100, 48_000)]
    [InlineData(48_000, 44_100)]
    [InlineData(96_000, 48_000)]
    [InlineData(44_100, 96_000)]
    public void Ripple_is_below_a_hundredth_of_a_dB_and_images_below_minus_120(int from, int to)
    {
        foreach (var hz in new[] { 40.0, 997, 5000, 12_000, 18_000, 19_500 })
        {
            var made = Convert(Sine.Make(hz, from, from, 0.5), SampleRate.FromHz(from), SampleRate.FromHz(to));
            var (level, rest) = Sine.Fit(made.AsSpan(to / 5, to / 2), hz, to);
            Assert.True(Math.Abs(Sine.Db(level / 0.5)) < 0.01, $"{hz} Hz: {Sine.Db(level / 0.5)} dB");
            Assert.True(Sine.Db(rest) < -120, $"{hz} Hz: rest {Sine.Db(rest)} dBFS");
        }
    }

    [Fact]
    public void What_the_lower_rate_cannot_hold_is_gone()
    {
        var made = Convert(Sine.Make(30_000, 96_000, 96_000, 0.5), SampleRate.FromHz(96_000), SampleRate.Hz48000);
        Assert.True(Sine.Peak(made.AsSpan(5000, 38_000)) < 1e-6);
    }

    [Fact]
    public void Pull_down_and_pull_up_keep_every_sample_on_its_place()
    {
        // 48 000 · 1000/1001 samples a second taken to 48 000: sample n lies at n · 1001/1000.
        var pulled = new SampleRate(new Rational(48_000_000, 1001));
        var sound = Enumerable.Range(0, 96_000).Select(i => Math.Exp(-Math.Pow((i - 50_000) / 20.0, 2))).ToArray();
        var up = Convert(sound, pulled, SampleRate.Hz48000);
        Assert.Equal(96_096, up.Length);
        Assert.Equal(50_050, Centre(up), 0.001);
        var back = Convert(up, SampleRate.Hz48000, pulled);
        Assert.Equal(96_000, back.Length);
        Assert.Equal(50_000, Centre(back), 0.001);
    }

    private static double Centre(double[] a) => a.Select((v, i) => v * i).Sum() / a.Sum();

    /// <summary>A source that is heard a little late, or at another level.</summary>
    private sealed class Late(double[] sound, SampleRate rate, double by, double level) : ISampleSource
    {
        public int Channels => 1;

        public long Length => sound.Length;

        public SampleRate Rate => rate;

        public void Read(long start, int count, double[][] into)
        {
            for (var i = 0; i < count; i++)
            {
                into[0][i] = level * (At(start + i) - (by * (At(start + i + 1) - At(start + i - 1)) / 2));
            }
        }

        public void Dispose()
        {
        }

        private double At(long sample) => sample < 0 || sample >= sound.Length ? 0 : sound[sample];
    }

    [Theory]
    [InlineData(44_100, 1, 48_000)]
    [InlineData(48_000, 1, 44_100)]
    [InlineData(96_000, 1, 48_000)]
    [InlineData(192_000, 1, 44_100)]
    [InlineData(44_100, 1, 96_000)]
    [InlineData(48_000_000, 1001, 48_000)]
    public void A_second_converter_agrees_from_before_the_first_sample_to_after_the_last(long rate, long over, int to)
    {
        var (from, session) = (new SampleRate(new Rational(rate, over)), SampleRate.FromHz(to));
        var sound = Noise(new Random(2), 30_000);
        using var error = new ConversionError(new ArraySource([sound], from), session);
        foreach (var origin in new[] { 0, 7, 12_345, 29_990 })
        {
            error.Take(origin, -300, 1500);
        }

        Assert.True(Sine.Db(error.Peak) < -120, $"{Sine.Db(error.Peak)} dBFS");
        Assert.Equal(0, error.Late, 1e-6);
    }

    [Fact]
    public void And_does_not_agree_with_what_is_late_or_louder()
    {
        var sound = Enumerable.Range(0, 30_000).Select(i => Math.Exp(-Math.Pow((i - 12_000) / 30.0, 2))).ToArray();
        foreach (var (by, level, db) in new[] { (0.002, 1.0, -90.0), (0, 1.0001, -90.0) })
        {
            using var error = ConversionError.Between(new Late(sound, SampleRate.Hz44100, by, level), new ArraySource([sound], SampleRate.Hz44100), SampleRate.Hz48000);
            error.Take(11_500, 0, 1500);
            Assert.True(Sine.Db(error.Peak) > db, $"{Sine.Db(error.Peak)}");
            Assert.Equal(by * 48_000 / 44_100, error.Late, 1e-5);
        }
    }
}
