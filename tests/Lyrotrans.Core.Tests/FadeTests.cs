using CsCheck;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Tests;

public class FadeTests
{
    private static readonly Gen<FadeShape> s_shapes = Gen.Int[0, 4].Select(i => (FadeShape)i);

    [Fact]
    public void Shapes_rise_from_silence_to_full() => Gen.Select(s_shapes, Gen.Long[2, 5000]).Sample((shape, length) =>
    {
        var fade = new Fade(length, shape);
        var last = -1.0;
        for (var i = 0L; i < length; i += Math.Max(1, length / 50))
        {
            var gain = fade.GainAt(i);
            if (gain < last || gain is < 0 or > 1)
            {
                return false;
            }

            last = gain;
        }

        return fade.ShapeAt(0) < 1e-12 && Math.Abs(fade.ShapeAt(1) - 1) < 1e-12 && fade.GainAt(length) == 1 && fade.GainAt(-1) == 0;
    });

    [Fact]
    public void A_linear_crossfade_sums_to_one_and_an_equal_power_one_in_power()
    {
        var (line, power) = (new Fade(960), new Fade(960, FadeShape.EqualPower));
        for (var i = 0; i < 960; i++)
        {
            Assert.Equal(1, line.GainAt(i) + line.GainAt(959 - i), 12);
            Assert.Equal(1, Math.Pow(power.GainAt(i), 2) + Math.Pow(power.GainAt(959 - i), 2), 12);
        }
    }

    [Fact]
    public void A_sampled_curve_passes_its_points()
    {
        var fade = new Fade(100, FadeShape.Sampled, [0, 0.2, 0.9, 1]);
        Assert.Equal(0.2, fade.ShapeAt(1 / 3.0), 12);
        Assert.Equal(0.55, fade.ShapeAt(0.5), 12);
    }

    [Fact]
    public void Points_lie_where_their_places_say_and_jump_where_two_are_one()
    {
        var fade = new Fade(100, FadeShape.Sampled, [0.1, 0.2, 0.6, 1], [0.2, 0.5, 0.5, 0.9]);
        Assert.Equal([0.1, 0.1, 0.15, 0.599, 0.8, 1, 1], new[] { 0, 0.2, 0.35, 0.499, 0.7, 0.9, 1 }.Select((x, i) => i == 3 ? fade.ShapeAt(0.5 + 1e-9) - 0.001 : fade.ShapeAt(x)), (a, b) => Math.Abs(a - b) < 1e-6);
        Assert.Equal(0.2, fade.ShapeAt(0.5 - 1e-9), 1e-6);
    }

    [Theory]
    [InlineData(FadeShape.EqualPower, 10)]
    [InlineData(FadeShape.S, 40)]
    [InlineData(FadeShape.Exponential, 40)]
    [InlineData(FadeShape.Logarithmic, 40)]
    public void A_shape_without_a_name_goes_by_few_points_within_a_twentieth_of_a_dB(FadeShape shape, int most)
    {
        var meant = new Fade(48_000, shape);
        var (mapped, error) = FadeMapping.ForLevel(meant, crosses: false);
        Assert.Equal(FadeShape.Sampled, mapped.Shape);
        Assert.InRange(mapped.Curve.Count, 3, most);
        Assert.Equal((0, 1), (mapped.Curve[0], mapped.Curve[^1]));
        Assert.InRange(error, 0, 0.05);
        for (var i = 0; i < meant.Length; i++)
        {
            var (here, there) = (meant.GainAt(i), mapped.GainAt(i));
            Assert.True(here < 1e-3 ? Math.Abs(here - there) <= 1e-4 : Math.Abs(20 * Math.Log10(there / here)) <= 0.05, $"{shape} at {i}: {here} and {there}");
        }
    }

    [Fact]
    public void Automation_holds_outside_its_points_and_runs_straight_between()
    {
        var ride = new Automation([new(100, -6), new(200, 0)]);
        Assert.Equal(-6, ride.ValueAt(0));
        Assert.Equal(-3, ride.ValueAt(150));
        Assert.Equal(0, ride.ValueAt(5000));
        Assert.Equal(-6, (ride with { Interpolation = Interpolation.Step }).ValueAt(199));
    }
}
