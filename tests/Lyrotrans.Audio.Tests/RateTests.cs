using System.Runtime.InteropServices;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class RateTests
{
    private static double[] Convert(double[] sound, SampleRate from, SampleRate to)
    {
        using var output = new MemoryStream();
        using var source = new ArraySource([sound], from);
        RateConverter.Convert(source, to, output, CancellationToken.None);
        return MemoryMarshal.Cast<byte, double>(output.ToArray()).ToArray();
    }

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

        static double Centre(double[] a) => a.Select((v, i) => v * i).Sum() / a.Sum();
    }
}
