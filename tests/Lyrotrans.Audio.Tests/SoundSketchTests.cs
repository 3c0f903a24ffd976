using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>How alike two sounds are at the same place.</summary>
public class SoundSketchTests
{
    private const int Length = 480_000;
    private const double Seconds = Length / 48_000.0;

    [Theory]
    [InlineData(0)]
    [InlineData(700)]
    [InlineData(-4_000)]
    public void The_same_sound_is_alike_at_any_level_polarity_and_delay_of_an_effect_and_another_is_not(int late)
    {
        var (sound, other) = (Noise(1), Noise(2));
        var changed = Enumerable.Range(0, Length).Select(i => i - late is >= 0 and < Length ? -0.3 * sound[i - late] : 0).ToArray();
        var (alike, clear) = Sketch(sound).LikenessTo(Sketch(changed));
        Assert.InRange(alike, 0.9, 1);
        Assert.InRange(clear, 50, double.MaxValue);
        (alike, clear) = Sketch(sound).LikenessTo(Sketch(other));
        Assert.InRange(alike, 0, 0.1);
        Assert.InRange(clear, 0, 6);
    }

    [Fact]
    public void A_part_of_a_sum_is_as_like_it_as_it_is_of_its_power_and_what_is_left_without_it_is_the_rest()
    {
        var (a, b) = (Noise(1), Noise(2));
        var sum = Sketch([.. a.Zip(b, (x, y) => x + y)]);
        Assert.Equal(Math.Sqrt(0.5), sum.LikenessTo(Sketch(a)).Correlation, 0.05);
        Assert.Equal(1, sum.Without(Sketch(a)).LikenessTo(Sketch(b)).Correlation, 1e-3);
    }

    [Fact]
    public void Silence_is_like_nothing()
    {
        Assert.Equal((0, 0), Sketch(new double[Length]).LikenessTo(Sketch(Noise(1))));
        Assert.Equal((0, 0), Sketch(new double[Length]).LikenessTo(Sketch(new double[10])));
    }

    private static SoundSketch Sketch(double[] sound) => SoundSketch.Of(new ArraySource([sound], SampleRate.Hz48000), Seconds, TestContext.Current.CancellationToken);

    // Low enough to be there at the rate of the analysis.
    private static double[] Noise(int seed)
    {
        var (random, result, low) = (new Random(seed), new double[Length], 0.0);
        for (var i = 0; i < Length; i++)
        {
            low += 0.1 * ((random.NextDouble() * 2) - 1 - low);
            result[i] = low;
        }

        return result;
    }
}
