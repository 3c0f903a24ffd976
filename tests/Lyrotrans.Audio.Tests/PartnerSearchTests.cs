using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>A loop lies elsewhere too, however it is cut and whatever lies beside it; what is played once does not.</summary>
public sealed class PartnerSearchTests
{
    private const int Hz = 8_000;

    private static double[] Struck(int seed, int count, int step)
    {
        var (random, result) = (new Random(seed), new double[count]);
        for (var at = 0; at < count; at += (step / 2) + random.Next(step))
        {
            var (hz, decay, level) = (110 * Math.Pow(2, random.Next(36) / 12.0), 200 + random.Next(1_500), 0.1 + (0.3 * random.NextDouble()));
            for (var i = 0; i < Math.Min(Hz, count - at); i++)
            {
                result[at + i] += level * Math.Exp(-i / (double)decay) * Enumerable.Range(1, 4).Sum(k => Math.Sin(2 * Math.PI * hz * k * i / Hz) / k);
            }
        }

        return result;
    }

    private static double[] Looped(int seed, int bar, int count)
    {
        var one = Struck(seed, bar, bar / 5);
        return [.. Enumerable.Range(0, count).Select(i => one[i % bar])];
    }

    private static SearchedSound Sound(double[] samples) => new(() => new ArraySource([samples], SampleRate.FromHz(Hz)));

    private static bool IsElsewhere(double[] track, double[] sound, int at, double asWell) =>
        new PartnerSearch([Sound(track)], Hz).IsElsewhere(0, SoughtSound.Of(Sound(sound), TestContext.Current.CancellationToken)!, at, 0, asWell, TestContext.Current.CancellationToken);

    [Theory]
    [InlineData(2.0, 60, 24)]
    [InlineData(2.0, 60, 8)]
    [InlineData(0.25, 12, 9)]
    [InlineData(0.5, 40, 36)]
    [InlineData(7.3, 40, 16)]
    public void A_loop_lies_elsewhere_wherever_it_is_cut(double bar, int seconds, int cut)
    {
        var (loop, random) = (Looped(3, (int)(bar * Hz), seconds * Hz), new Random(11));
        for (var i = 0; i < 12; i++)
        {
            var at = random.Next((seconds - cut) * Hz);
            var sound = loop[at..(at + (cut * Hz))];
            Assert.True(IsElsewhere(loop, sound, at, 0.9), $"{at}");
            Assert.True(IsElsewhere(loop, sound, at, 0.9995), $"{at}");
        }
    }

    [Fact]
    public void A_loop_beside_a_part_that_is_louder_here_and_there_lies_elsewhere_and_that_part_does_not()
    {
        var (loop, part, random) = (Looped(5, 2 * Hz, 40 * Hz), Struck(6, 40 * Hz, Hz), new Random(12));
        for (var i = 0; i < 8; i++)
        {
            var (at, length) = (random.Next(28 * Hz), (8 * Hz) + random.Next(4 * Hz));
            double[] sum = [.. Enumerable.Range(at, length).Select(n => loop[n] + part[n])];
            Assert.True(IsElsewhere(loop, sum, at, 0.9), $"{at}");
            Assert.False(IsElsewhere(part, sum, at, 0.9), $"{at}");
        }
    }
}
