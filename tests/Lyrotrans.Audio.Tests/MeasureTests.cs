using System.Numerics.Tensors;
using CsCheck;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class MeasureTests
{
    private static double[] Noise(int count, int seed)
    {
        var dice = new Random(seed);
        return Enumerable.Range(0, count).Select(_ => (dice.NextDouble() * 1.6) - 0.8).ToArray();
    }

    [Fact]
    public void Every_level_of_the_pyramid_holds_the_extremes() => Gen.Select(Gen.Int[1, 200_000], Gen.Int[1, 2]).Sample(
        (count, channels) =>
        {
            var sound = Enumerable.Range(0, channels).Select(c => Noise(count, c + count)).ToArray();
            var pyramid = PeakPyramid.Measure(new ArraySource(sound, SampleRate.Hz48000), CancellationToken.None);
            for (var level = 0; level < pyramid.Levels; level++)
            {
                var stretch = PeakPyramid.StretchOf(level);
                var pairs = pyramid.Level(level);
                for (var c = 0; c < channels; c++)
                {
                    for (long s = 0; s * stretch < count; s += Math.Max(1, count / stretch / 20))
                    {
                        var piece = sound[c].AsSpan((int)(s * stretch), (int)Math.Min(stretch, count - (s * stretch)));
                        var place = (int)((s * channels) + c) * 2;
                        if (pairs[place] != Math.Round(Min(piece) * 32767) || pairs[place + 1] != Math.Round(-Min(Negated(piece)) * 32767))
                        {
                            return false;
                        }
                    }
                }
            }

            return true;
        },
        iter: 30);

    [Fact]
    public void A_pyramid_file_reads_back()
    {
        var pyramid = PeakPyramid.Measure(new ArraySource([Noise(100_000, 3), Noise(100_000, 4)], SampleRate.Hz48000), CancellationToken.None);
        var stream = new MemoryStream();
        pyramid.Write(stream);
        stream.Position = 0;
        var back = PeakPyramid.Read(stream, "p");
        var kept = pyramid.Sound with { SideDb = (float)pyramid.Sound.SideDb!.Value };
        Assert.Equal((pyramid.Channels, pyramid.Frames, pyramid.Levels, kept), (back.Channels, back.Frames, back.Levels, back.Sound));
        for (var i = 0; i < back.Levels; i++)
        {
            Assert.True(back.Level(i).SequenceEqual(pyramid.Level(i)));
        }
    }

    [Fact]
    public void First_and_last_sound_peak_equality_and_clipping_are_found()
    {
        var sound = new double[100_000];
        sound[70_000] = 0.5;
        sound[300] = -0.25;
        sound[90_000] = sound[90_001] = sound[90_002] = 1;
        MediaSound Of(params double[][] channels) => PeakPyramid.Measure(new ArraySource(channels, SampleRate.Hz48000), CancellationToken.None).Sound;
        Assert.Equal(new MediaSound(300, 90_003, 1, null, 1), Of(sound));
        Assert.Equal(double.NegativeInfinity, Of(sound, (double[])sound.Clone()).SideDb);
        Assert.True(Of(sound, (double[])sound.Clone()).IsMonoInStereo);
        var other = (double[])sound.Clone();
        other[99_999] = 3e-5;
        Assert.Equal(-90.46, Of(sound, other).SideDb!.Value, 2);
        Assert.True(Of(sound, other).IsMonoInStereo);
        other[99_999] = 3.3e-5;
        Assert.False(Of(sound, other).IsMonoInStereo);
        Assert.True(Of(new double[10]).IsSilent);
    }

    [Fact]
    public void A_conversion_keeps_sample_n_at_n_times_the_ratio()
    {
        // A band-limited burst centred on a known source sample must be centred on the exact place after.
        var source = new double[44_100];
        const int centre = 22_050;
        for (var i = 0; i < source.Length; i++)
        {
            var t = (i - centre) / 44_100.0;
            source[i] = Math.Exp(-t * t * 200_000) * Math.Cos(2 * Math.PI * 1000 * t);
        }

        using var converted = new ConvertedSource(new ArraySource([source], SampleRate.Hz44100), SampleRate.Hz48000);
        Assert.Equal(48_000, converted.Length);
        var made = new double[48_000];
        converted.Read(0, 48_000, [made]);
        for (var i = 23_500; i < 24_500; i++)
        {
            var t = (i - 24_000) / 48_000.0;
            Assert.Equal(Math.Exp(-t * t * 200_000) * Math.Cos(2 * Math.PI * 1000 * t), made[i], 6);
        }
    }

    [Fact]
    public void A_shift_and_a_gain_are_measured() => Gen.Select(Gen.Int[-500, 500], Gen.Double[-12, 12], Gen.Int[1, 1000]).Sample(
        (shift, gain, seed) =>
        {
            var sound = Noise(9000, seed);
            var found = new double[6000 + 1000];
            for (var i = 0; i < found.Length; i++)
            {
                found[i] = sound[1500 + i - 500 - shift] * Decibels.ToRatio(gain);
            }

            var place = Alignment.Of(sound.AsSpan(1500, 6000), found, 500);
            return place is { } p && p.Shift == shift && Math.Abs(p.GainDb - gain) < 1e-9;
        },
        iter: 20);

    [Fact]
    public void All_places_at_once_say_what_one_after_the_other_says_of_tones_clicks_and_what_is_next_to_silence()
    {
        const int Length = 3000, Reach = 400;
        var noise = Noise(Length + (2 * Reach), 4);
        double[] Sound(Func<int, double> of) => [.. Enumerable.Range(0, noise.Length).Select(of)];
        var sounds = new[]
        {
            noise, Sound(i => Math.Sin(i * 0.05)), Sound(i => i == 700 ? 1 : 0), Sound(i => (i < 3300 ? 1e-7 : 1) * noise[i]), Sound(i => i < Length ? 1e-9 * noise[i] : 0),
            Sound(i => 0.5 + (1e-3 * noise[i])), Sound(i => Math.Sin(2 * Math.PI * i / 100)), Sound(i => -noise[i]),
        };
        foreach (var (found, of) in sounds.SelectMany(s => sounds.Select(o => (s, o))))
        {
            foreach (var shift in new[] { -400, -37, 0, 1, 399 })
            {
                var meant = of.AsSpan(Reach + shift, Length).ToArray();
                Assert.Equal(OneByOne(meant, found, Reach), Alignment.Of(meant, found, Reach));
            }
        }

        static Alignment? OneByOne(double[] meant, double[] found, int reach)
        {
            var energy = TensorPrimitives.Dot<double>(meant, meant);
            var (best, most) = ((Alignment?)null, 0.0);
            for (var shift = -reach; shift <= reach; shift++)
            {
                var other = found.AsSpan(reach + shift, meant.Length);
                var (cross, own) = (TensorPrimitives.Dot<double>(meant, other), TensorPrimitives.Dot<double>(other, other));
                if (cross / Math.Sqrt(energy * Math.Max(own, 1e-30)) is var match && match > most + 1e-12)
                {
                    (best, most) = (new Alignment(shift, 20 * Math.Log10(cross / energy)), match);
                }
            }

            return energy >= 1e-12 && most > 0.9 ? best : null;
        }
    }

    [Fact]
    public void Silence_and_other_sound_have_no_place()
    {
        Assert.Null(Alignment.Of(new double[100], new double[120], 10));
        Assert.Null(Alignment.Of(Noise(1000, 1), Noise(1020, 2), 10));
    }

    private static double Min(ReadOnlySpan<double> values)
    {
        var least = double.MaxValue;
        foreach (var value in values)
        {
            least = Math.Min(least, value);
        }

        return least;
    }

    private static double[] Negated(ReadOnlySpan<double> values)
    {
        var result = values.ToArray();
        for (var i = 0; i < result.Length; i++)
        {
            result[i] = -result[i];
        }

        return result;
    }
}
