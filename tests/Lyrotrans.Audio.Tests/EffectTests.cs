using System.Numerics;
using Lyrotrans.Audio.Effects;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class EffectTests
{
    private const int Rate = 48_000;

    public static TheoryData<string> Names => [.. EffectCatalogue.All.Select(e => e.Name)];

    private static Insert Insert(string effect, params (string Name, double Value)[] settings) => new(effect, [.. settings.Select(s => new Parameter(s.Name, s.Value))]);

    private static double[][] Run(Insert insert, double[][] sound, int block = 1000)
    {
        var effect = Assert.Single(EffectRack.Of([insert], SampleRate.Hz48000, sound.Length));
        Assert.Equal(EffectCatalogue.Latency(insert, SampleRate.Hz48000), effect.Latency);
        var result = sound.Select(c => c.ToArray()).ToArray();
        var piece = sound.Select(_ => new double[block]).ToArray();
        for (var at = 0; at < sound[0].Length; at += block)
        {
            var count = Math.Min(block, sound[0].Length - at);
            for (var c = 0; c < sound.Length; c++)
            {
                result[c].AsSpan(at, count).CopyTo(piece[c]);
            }

            effect.Process(piece, count);
            for (var c = 0; c < sound.Length; c++)
            {
                piece[c].AsSpan(0, count).CopyTo(result[c].AsSpan(at));
            }
        }

        return result;
    }

    private static double[] Mono(Insert insert, double[] sound) => Run(insert, [sound])[0];

    [Theory]
    [MemberData(nameof(Names))]
    public void Blocks_of_any_size_give_the_same_to_the_bit(string name)
    {
        double[][] sound = [Sine.Noise(9000, 1, 0.9), Sine.Noise(9000, 2, 0.9)];
        Assert.Equal(Run(Insert(name), sound, 9000), Run(Insert(name), sound, 77));
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void What_is_called_linear_is_and_what_is_not_is_not(string name)
    {
        var insert = Insert(name, ("drive dB", 20), ("threshold dB", -30), ("ceiling dB", -12));
        var (a, b) = (Sine.Noise(40_000, 3, 0.4), Sine.Noise(40_000, 4, 0.4));
        var (fa, fb, fab) = (Mono(insert, a), Mono(insert, b), Mono(insert, [.. a.Zip(b, (x, y) => x + y)]));
        var left = Sine.Db(Sine.Peak([.. fab.Select((v, i) => v - fa[i] - fb[i])]) + 1e-30);
        Assert.Equal(EffectCatalogue.IsLinear(insert), left < -200);
        Assert.True(left is < -200 or > -60, $"{left} dB");
    }

    [Theory]
    [InlineData("gain")]
    [InlineData("equaliser", "low cut Hz", 30.0, "low shelf dB", 9.0, "bell dB", -12.0, "bell Q", 12.0)]
    [InlineData("delay", "time ms", 90.0, "feedback", 0.6)]
    [InlineData("reverb", "time s", 0.7, "pre-delay ms", 30.0)]
    [InlineData("drive and cabinet", "drive dB", 0.0)]
    public void Tails_have_fallen_by_120_dB_where_they_are_said_to_end(string name, params object[] settings)
    {
        var insert = Insert(name, [.. settings.Chunk(2).Select(p => ((string)p[0], (double)p[1]))]);
        var tail = (int)EffectCatalogue.Tail(insert, SampleRate.Hz48000);
        var sound = new double[24_000 + tail + 24_000];
        Sine.Noise(24_000, 5, 0.5).CopyTo(sound, 0);
        var made = Mono(insert, sound);
        var left = Sine.Db(Sine.Peak(made.AsSpan(24_000 + tail)) + 1e-30);
        Assert.True(left < -120, $"{left} dBFS");

        // Nor is it said to be ten times longer than it is.
        Assert.True(tail < 300 || Sine.Db(Sine.Peak(made.AsSpan(24_000 + (tail / 10))) + 1e-30) > -120);
    }

    [Theory]
    [InlineData(50)]
    [InlineData(300)]
    [InlineData(1000)]
    [InlineData(5000)]
    [InlineData(15_000)]
    public void An_equaliser_has_the_response_of_its_filters(double hz)
    {
        var insert = Insert("equaliser", ("low cut Hz", 40), ("low shelf dB", -6), ("bell Hz", 1200), ("bell dB", 8), ("bell Q", 1.4), ("high shelf dB", 5), ("high cut Hz", 18_000));
        var made = Mono(insert, Sine.Make(hz, Rate, 48_000));
        var z = Complex.Exp(new Complex(0, -2 * Math.PI * hz / Rate));
        var meant = 0.5;
        foreach (var f in EffectFilters.Equaliser(EffectCatalogue.Settings(insert)!, Rate))
        {
            meant *= Complex.Abs((f.B0 + (f.B1 * z) + (f.B2 * z * z)) / (1 + (f.A1 * z) + (f.A2 * z * z)));
        }

        Assert.Equal(0, Sine.Db(Sine.Fit(made.AsSpan(24_000), hz, Rate).Level / meant), 0.001);
    }

    [Theory]
    [InlineData(0, -6, 1000, 1000, -6)]
    [InlineData(80, 0, 1000, 80, -3.01)]
    public void An_equalisers_corners_are_where_they_are_set(double lowCut, double bell, double bellHz, double hz, double decibels)
    {
        var made = Mono(Insert("equaliser", ("low cut Hz", lowCut), ("bell dB", bell), ("bell Hz", bellHz)), Sine.Make(hz, Rate, 96_000));
        Assert.Equal(decibels, Sine.Db(Sine.Fit(made.AsSpan(48_000), hz, Rate).Level / 0.5), 0.01);
    }

    [Theory]
    [InlineData(-30, -30)]
    [InlineData(-12, -16)]
    [InlineData(0, -12)]
    public void A_compressor_has_its_curve(double goesIn, double comesOut)
    {
        // A square wave, whose level is the same at every sample. Threshold −18, ratio 3, no knee.
        var level = Math.Pow(10, goesIn / 20);
        var made = Mono(Insert("compressor", ("threshold dB", -18), ("ratio", 3), ("knee dB", 0)), [.. Enumerable.Range(0, 96_000).Select(i => i / 24 % 2 == 0 ? level : -level)]);
        Assert.Equal(comesOut, Sine.Db(Math.Abs(made[^1])), 0.01);
    }

    [Fact]
    public void A_compressors_attack_and_release_are_time_constants()
    {
        var sound = Enumerable.Repeat(1.0, 48_000).Concat(Enumerable.Repeat(0.001, 48_000)).ToArray();
        var made = Mono(Insert("compressor", ("threshold dB", -20), ("ratio", 2), ("knee dB", 0), ("attack ms", 20), ("release ms", 100)), sound);
        double Reduction(int i) => Sine.Db(sound[i] / made[i]);
        Assert.Equal(10 * (1 - Math.Exp(-1)), Reduction((int)(0.020 * Rate) - 1), 0.02);
        Assert.Equal(10, Reduction(47_999), 0.01);
        Assert.Equal(10 * Math.Exp(-1), Reduction(48_000 + (int)(0.100 * Rate) - 1), 0.02);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1.5)]
    [InlineData(10)]
    public void A_limiter_lets_nothing_above_its_ceiling_and_leaves_the_rest_alone(double lookAhead)
    {
        var insert = Insert("limiter", ("ceiling dB", -3), ("look-ahead ms", lookAhead), ("release ms", 20));
        var latency = (int)EffectCatalogue.Latency(insert, SampleRate.Hz48000);
        Assert.Equal((int)(lookAhead * 48), latency);
        var made = Run(insert, [Sine.Noise(48_000, 6, 3), Sine.Noise(48_000, 7, 0.1)]);
        var ceiling = Math.Pow(10, -3.0 / 20);
        Assert.True(Sine.Peak(made[0]) <= ceiling);
        Assert.True(Sine.Peak(made[0]) > ceiling * 0.9);
        double[][] soft = [Sine.Noise(48_000, 8, 0.5), Sine.Noise(48_000, 9, 0.5)];
        var same = Run(insert, soft);
        Assert.Equal(soft[0][..(48_000 - latency)], same[0][latency..]);
        Assert.Equal(soft[1][..(48_000 - latency)], same[1][latency..]);
    }

    [Fact]
    public void A_limiter_comes_down_before_the_peak_and_both_sides_alike()
    {
        double[][] sound = [Sine.Make(400, Rate, 20_000, 0.4), Sine.Make(400, Rate, 20_000, 0.2)];
        sound[0][10_000] = 4;
        var made = Run(Insert("limiter", ("ceiling dB", -1), ("look-ahead ms", 2)), sound);
        double Gain(int i, int c) => made[c][i + 96] / sound[c][i];
        for (var i = 9_910; i < 10_600; i++)
        {
            if (Math.Abs(sound[1][i]) > 0.05 && i != 10_000)
            {
                Assert.Equal(Gain(i, 1), Gain(i, 0), 1e-9);
            }
        }

        // It comes down in a straight line over the look-ahead, without a jump.
        Assert.True(Gain(9_955, 0) is > 0.3 and < 0.8, $"{Gain(9_955, 0)}");
        Assert.Equal(1, Gain(9_890, 0));
    }

    [Fact]
    public void A_delay_is_its_echoes()
    {
        var sound = new double[30_000];
        sound[100] = 1;
        var made = Mono(Insert("delay", ("time ms", 100), ("feedback", 0.5), ("mix %", 60)), sound);
        var meant = new double[30_000];
        (meant[100], meant[4900], meant[9700], meant[14_500], meant[19_300], meant[24_100], meant[28_900]) = (0.4, 0.6, 0.3, 0.15, 0.075, 0.0375, 0.01875);
        for (var i = 0; i < meant.Length; i++)
        {
            Assert.Equal(meant[i], made[i], 1e-15);
        }
    }

    [Theory]
    [InlineData(0.6)]
    [InlineData(2.8)]
    public void A_reverb_falls_by_60_dB_in_its_time(double seconds)
    {
        var sound = new double[(int)(seconds * 1.3 * Rate) + Rate];

        // Low enough that the damping of the highs takes nothing from it.
        Sine.Make(300, Rate, 960).CopyTo(sound, 0);
        var made = Mono(Insert("reverb", ("time s", seconds), ("damping Hz", 20_000), ("pre-delay ms", 20)), sound);
        Assert.All(made[..960], v => Assert.Equal(0, v));

        // Energy that is still to come, between 5 and 35 dB below the beginning, as rooms are measured (ISO 3382).
        var left = new double[made.Length + 1];
        for (var i = made.Length - 1; i >= 4800; i--)
        {
            left[i] = left[i + 1] + (made[i] * made[i]);
        }

        left.AsSpan(0, 4800).Fill(left[4800]);
        int Falls(double decibels) => Array.FindIndex(left, e => 10 * Math.Log10(e / left[0]) <= decibels);
        Assert.Equal(seconds, 2.0 * (Falls(-35) - Falls(-5)) / Rate, seconds * 0.1);
    }

    [Fact]
    public void A_reverbs_channels_are_not_the_same()
    {
        var sound = new double[48_000];
        sound[0] = 1;
        var made = Run(Insert("reverb"), [sound, sound]);
        double xy = 0, xx = 0, yy = 0;
        for (var i = 0; i < 48_000; i++)
        {
            (xy, xx, yy) = (xy + (made[0][i] * made[1][i]), xx + (made[0][i] * made[0][i]), yy + (made[1][i] * made[1][i]));
        }

        Assert.True(Math.Abs(xy / Math.Sqrt(xx * yy)) < 0.3);
    }

    [Theory]
    [InlineData(1, -20.0)]
    [InlineData(2, -45.0)]
    [InlineData(4, -75.0)]
    public void Oversampling_keeps_what_a_drive_makes_from_folding_back(int factor, double below)
    {
        // The third and fifth harmonics of 11 kHz lie at 33 and 55 kHz and fold to 15 and 7 kHz.
        const double hz = 11_000;
        var made = Mono(Insert("drive and cabinet", ("drive dB", 6), ("cabinet Hz", 16_000), ("oversampling", factor)), Sine.Make(hz, Rate, 48_000, 0.5));
        var part = made.AsSpan(4800, 38_400);
        var folded = Sine.Db(Math.Max(Sine.Fit(part, 15_000, Rate).Level, Sine.Fit(part, 7_000, Rate).Level) / Sine.Fit(part, hz, Rate).Level);
        Assert.True(folded < below, $"{folded} dB");
        Assert.True(factor > 1 || folded > -45, $"without it there is something to fold back: {folded} dB");
    }

    [Theory]
    [InlineData(2)]
    [InlineData(4)]
    public void Oversampling_is_flat_linear_in_phase_and_as_late_as_it_says(int factor)
    {
        foreach (var hz in new[] { 30.0, 1000, 10_000, 20_000 })
        {
            var sound = Sine.Make(hz, Rate, 24_000);
            var insert = Insert("limiter", ("ceiling dB", 0), ("look-ahead ms", 1), ("oversampling", factor));
            var made = Mono(insert, sound);
            var latency = (int)EffectCatalogue.Latency(insert, SampleRate.Hz48000);
            Assert.Equal(48 + (factor == 4 ? 72 : 64), latency);
            var worst = Enumerable.Range(1000, 20_000).Max(i => Math.Abs(made[i + latency] - sound[i]));
            Assert.True(Sine.Db(worst / 0.5) < -95, $"{hz} Hz: {Sine.Db(worst / 0.5)} dB");
        }
    }

    [Fact]
    public void Unknown_and_bypassed_effects_do_nothing_and_settings_are_held_in_range()
    {
        Assert.Empty(EffectRack.Of([new Insert("somebody's own"), Insert("gain") with { Bypassed = true }], SampleRate.Hz48000, 1));
        Assert.Equal(48, EffectCatalogue.Settings(Insert("gain", ("gain dB", 1000)))!["gain dB"]);
        Assert.Equal(0, EffectCatalogue.Settings(Insert("gain", ("gain dB", double.NaN)))!["gain dB"]);
    }
}
