using CsCheck;
using Lyrotrans.Audio.Silences;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class SilenceFinderTests
{
    private static readonly Gen<double[]> s_sound = Gen.Select(Gen.Int[0, 4], Gen.Int[1, 60], (kind, length) => (kind, length)).Array[1, 30]
        .Select(runs => runs.SelectMany((r, n) => Enumerable.Range(0, r.length).Select(i => r.kind switch { 0 => 0.0, 1 => 0.001, 2 => -0.01, 3 => i % 2 == 0 ? 0 : 0.5, _ => ((n * 31) + i) % 7 / 7.0 })).ToArray());

    private static IReadOnlyList<SampleRange> Sounds(double[][] sound, SilenceRule rule, SampleRange? within = null) =>
        SilenceFinder.Sounds(new ArraySource(sound, SampleRate.Hz48000), within ?? new SampleRange(0, sound[0].Length), rule, CancellationToken.None);

    // Straight from the words: a frame goes when it lies in a silence that is long enough, and no sound is near enough.
    private static bool[] Kept(double[] sound, SilenceRule rule)
    {
        var loud = sound.Select(x => !(Math.Abs(x) <= rule.Threshold)).ToArray();
        var kept = (bool[])loud.Clone();
        for (var i = 0; i < sound.Length; i++)
        {
            var (from, to) = (i, i);
            while (from > 0 && !loud[from - 1])
            {
                from--;
            }

            while (to < sound.Length - 1 && !loud[to + 1])
            {
                to++;
            }

            kept[i] |= !loud[i] && loud.Any(l => l) && to - from + 1 < rule.Shortest;
        }

        var sounds = (bool[])kept.Clone();
        for (var i = 0; i < sound.Length; i++)
        {
            kept[i] |= Enumerable.Range(0, sound.Length).Any(s => sounds[s] && s - i <= rule.Before && i - s <= rule.After && (s > i || i > s));
        }

        return kept;
    }

    [Fact]
    public void What_stays_is_what_the_words_say() =>
        Gen.Select(s_sound, Gen.Int[0, 3].Select(i => new[] { 0, 0.001, 0.01, 0.2 }[i]), Gen.Long[1, 70], Gen.Long[0, 30], Gen.Long[0, 30]).Sample((sound, threshold, shortest, before, after) =>
        {
            var rule = new SilenceRule(threshold, shortest, before, after);
            var found = Sounds([sound], rule);
            var wanted = Kept(sound, rule);
            for (var i = 0; i < sound.Length; i++)
            {
                Assert.Equal(wanted[i], found.Any(s => i >= s.Start && i < s.End));
            }

            Assert.All(found.Zip(found.Skip(1)), p => Assert.True(p.First.End < p.Second.Start));
        });

    [Fact]
    public void What_is_left_out_peaks_as_it_does_sample_by_sample() =>
        Gen.Select(s_sound, Gen.Double[0, 0.1], Gen.Long[0, 9]).Sample((sound, threshold, length) =>
        {
            var spans = Sounds([sound], new SilenceRule(threshold, 20, 5, 5)).Select(s => new KeptSpan(s, new Fade(Math.Min(length, s.Length / 2)), new Fade(Math.Min(length, s.Length / 2), FadeShape.EqualPower))).ToList();
            var wanted = sound.Select((x, i) => Math.Abs(x) * (1 - spans.Where(s => i >= s.Frames.Start && i < s.Frames.End).Sum(s => s.GainAt(i)))).Max();
            Assert.Equal(wanted, SilenceFinder.ResidualPeak(new ArraySource([sound], SampleRate.Hz48000), new SampleRange(0, sound.Length), spans, CancellationToken.None), 15);
        });

    [Fact]
    public void Digital_silence_leaves_out_nothing_but_zeros() => s_sound.Sample(sound =>
    {
        var kept = Sounds([sound], new SilenceRule(0, 10, 0, 0)).Select(s => new KeptSpan(s, Fade.None, Fade.None)).ToList();
        Assert.Equal(0, SilenceFinder.ResidualPeak(new ArraySource([sound], SampleRate.Hz48000), new SampleRange(0, sound.Length), kept, CancellationToken.None));
    });

    [Fact]
    public void A_frame_is_silent_when_every_channel_is_and_what_is_no_number_is_not_silent()
    {
        var (left, right) = (new double[100_000], new double[100_000]);
        (left[40_000], right[70_000], left[90_000]) = (0.5, -0.5, double.NaN);
        Assert.Equal([new(40_000, 40_001), new(70_000, 70_001), new(90_000, 90_001)], Sounds([left, right], new SilenceRule(0.1, 100, 0, 0)));
        Assert.Equal([new(70_000, 70_001)], Sounds([left, right], new SilenceRule(0.1, 100, 0, 0), new SampleRange(50_000, 80_000)));
        Assert.Empty(Sounds([new double[1000]], new SilenceRule(0, 1, 0, 0)));
        Assert.Empty(Sounds([[]], new SilenceRule(0, 1, 0, 0)));
    }
}
