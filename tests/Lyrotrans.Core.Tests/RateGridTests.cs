using CsCheck;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class RateGridTests
{
    private static readonly Gen<int> s_rates = Gen.Int[0, 6].Select(i => new[] { 8000, 44_100, 47_952, 48_000, 88_200, 96_000, 192_000 }[i]);

    [Theory]
    [InlineData(44_100, 48_000, 147, 160)]
    [InlineData(96_000, 48_000, 2, 1)]
    [InlineData(48_000, 48_000, 1, 1)]
    [InlineData(48_048, 48_000, 1001, 1000)]
    public void Its_unit_is_the_shortest_that_is_whole_at_both_rates(int from, int to, int unitFrom, int unitTo)
    {
        var grid = new RateGrid(SampleRate.FromHz(from), SampleRate.FromHz(to));
        Assert.Equal((unitFrom, unitTo), (grid.From, grid.To));
    }

    [Fact]
    public void A_sample_lies_on_a_whole_place_of_the_grid_of_its_phase() => Gen.Select(s_rates, s_rates, Gen.Long[-1_000_000, 10_000_000_000]).Sample((from, to, sample) =>
    {
        var grid = new RateGrid(SampleRate.FromHz(from), SampleRate.FromHz(to));
        var (phase, place) = (grid.PhaseOf(sample), grid.PlaceOf(sample));
        Assert.InRange(phase, 0, grid.From - 1);
        Assert.Equal(new Rational(sample - phase, 1) * new Rational(to, from), new Rational(place, 1));
        Assert.Equal(new Rational(sample, 1) * new Rational(to, from), grid.Exact(sample));
    });

    [Fact]
    public void A_place_between_two_samples_lies_on_a_whole_place_of_its_grid() => Gen.Select(s_rates, s_rates, Gen.Long[-1_000_000, 10_000_000_000], Gen.Long[-1_000_000, 1_000_000]).Sample((from, to, sample, parts) =>
    {
        var grid = new RateGrid(SampleRate.FromHz(from), SampleRate.FromHz(to));
        var part = new Rational(parts, grid.To);
        var (phase, place) = grid.Anchor(sample, part);
        Assert.InRange(phase, 0, grid.From - 1);
        Assert.Equal(new Rational(sample, 1) + part, new Rational(phase, 1) + (new Rational(place, 1) * new Rational(grid.From, grid.To)));
        Assert.Equal((grid.PhaseOf(sample), grid.PlaceOf(sample)), grid.Anchor(sample, Rational.Zero));
    });

    [Fact]
    public void The_default_is_one_rate() => Assert.Equal(new RateGrid(SampleRate.Hz48000, SampleRate.Hz48000), default);
}
