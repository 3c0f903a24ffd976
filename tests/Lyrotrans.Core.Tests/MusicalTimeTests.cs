using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class MusicalTimeTests
{
    private static readonly Gen<Rational> s_places = Gen.Select(Gen.Long[-4000, 200_000], Gen.Int[1, 480], (n, d) => new Rational(n, d));

    private static Gen<TempoMap> Maps(bool ramps) => Gen.Select(Gen.Int[1, 400], Gen.Int[3000, 40_000], Gen.Bool).Array[1, 12].Select(pieces =>
    {
        var at = new Rational(-1, 1);
        return new TempoMap(pieces.Select(p =>
        {
            var point = new TempoPoint(at, new Rational(p.Item2, 100), ramps && p.Item3);
            at += new Rational(p.Item1, 4);
            return point;
        }).ToValueArray());
    });

    [Fact]
    public void Constant_pieces_are_exact_both_ways() => Gen.Select(Maps(false), s_places).Sample((map, quarter) => map.QuarterAt(map.SecondsAt(quarter)) == quarter);

    [Fact]
    public void Ramps_come_back_to_the_same_sample() => Gen.Select(Maps(true), s_places).Sample((map, quarter) =>
    {
        var clock = new MusicalClock(SampleRate.FromHz(192_000), 12_345, map);
        var exact = clock.ExactSampleAt(quarter);
        return Math.Abs((clock.ExactSampleAt(clock.QuarterAt(exact)) - exact).ToDouble()) < 1e-3;
    });

    [Fact]
    public void Time_never_runs_backwards() => Gen.Select(Maps(true), s_places, s_places).Sample((map, a, b) =>
        a == b || (map.SecondsAt(a) < map.SecondsAt(b)) == (a < b));

    [Fact]
    public void A_ramp_lasts_as_long_as_its_integral()
    {
        // From 60 to 120 over 4 quarters: 4·60/60·ln(2) seconds.
        var map = new TempoMap([new TempoPoint(0, 60, true), new TempoPoint(4, 120)]);
        Assert.Equal(4 * Math.Log(2), map.SecondsAt(4).ToDouble(), 12);
        Assert.Equal(90, map.TempoAt(2).ToDouble(), 12);
    }

    [Fact]
    public void Bar_one_is_second_zero_wherever_the_map_begins()
    {
        var map = new TempoMap([new TempoPoint(-8, 60), new TempoPoint(-4, 120), new TempoPoint(4, 30)]);
        Assert.Equal(Rational.Zero, map.SecondsAt(0));
        Assert.Equal(new Rational(-2, 1), map.SecondsAt(-4));
        Assert.Equal(new Rational(-6, 1), map.SecondsAt(-8));
        Assert.Equal(new Rational(4, 1), map.SecondsAt(5));
    }

    [Fact]
    public void The_pick_up_of_the_demo_lies_where_it_should()
    {
        var clock = new MusicalClock(SampleRate.Hz48000, 31_304, TempoMap.Constant(92));
        Assert.Equal(0, clock.SampleAt(-1));
        Assert.Equal(31_304, clock.SampleAt(0));
        Assert.Equal(31_304 + 125_217, clock.SampleAt(4));
    }

    [Fact]
    public void Musical_positions_are_exact_both_ways()
    {
        var meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8), new MeterChange(23, 3, 2)]);
        s_places.Sample(quarter => meters.QuarterOf(meters.PositionAt(quarter)) == quarter);
    }

    [Theory]
    [InlineData(-1, 1, 0, 4)]
    [InlineData(0, 1, 1, 1)]
    [InlineData(64, 1, 17, 1)]
    [InlineData(65, 2, 9, 1)]
    [InlineData(135, 2, 18, 1)]
    [InlineData(85, 1, 23, 1)]
    public void Bars_and_beats_of_the_demo(long n, long d, long bar, int beat)
    {
        var meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8), new MeterChange(23, 4, 4)]);
        var position = meters.PositionAt(new Rational(n, d));
        Assert.Equal((bar, beat), (position.Bar, position.Beat));
    }

    [Fact]
    public void Text_of_a_position_reads_back()
    {
        Assert.True(MusicalPosition.TryParse("9.3.217", out var position));
        foreach (var (text, tick) in new[] { ("9|3|217", new Rational(217, 1)), ("9.3.217.5", new Rational(435, 2)), ("9|3|217.5", new Rational(435, 2)), ("9.3.1/3", new Rational(1, 3)) })
        {
            Assert.True(MusicalPosition.TryParse(text, out var same), text);
            Assert.Equal(position with { Tick = tick }, same);
        }

        Assert.Equal(new MusicalPosition(9, 3, 217), position);
        Assert.True(MusicalPosition.TryParse("−2", out var before));
        Assert.Equal(-2, before.Bar);
        Assert.False(MusicalPosition.TryParse("9.0.1", out _));
        Assert.False(MusicalPosition.TryParse("x", out _));
    }

    [Fact]
    public void Maps_that_make_no_sense_are_refused()
    {
        Assert.Throws<ArgumentException>(() => new TempoMap([]));
        Assert.Throws<ArgumentException>(() => TempoMap.Constant(0));
        Assert.Throws<ArgumentException>(() => new TempoMap([new TempoPoint(1, 90), new TempoPoint(1, 91)]));
        Assert.Throws<ArgumentException>(() => new MeterMap([new MeterChange(1, 0, 4)]));
        Assert.Throws<ArgumentException>(() => new MeterMap([new MeterChange(2, 4, 4), new MeterChange(2, 3, 4)]));
    }

    [Fact]
    public void Rate_conversion_keeps_neighbours_together() => Gen.Select(Gen.Long[0, 100_000_000], Gen.Int[1, 100_000], Gen.Int[1, 100_000]).Sample((start, a, b) =>
    {
        var (from, to) = (SampleRate.Hz44100, SampleRate.Hz48000);
        var ends = from.Convert(start + a, to);
        var exact = (start + a) * new Rational(48_000, 44_100);
        return Math.Abs((ends - exact).ToDouble()) <= 0.5 && from.Convert(start + a + b, to) >= ends;
    });
}
