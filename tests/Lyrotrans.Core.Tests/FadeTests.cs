using CsCheck;
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
    public void Automation_holds_outside_its_points_and_runs_straight_between()
    {
        var ride = new Automation([new(100, -6), new(200, 0)]);
        Assert.Equal(-6, ride.ValueAt(0));
        Assert.Equal(-3, ride.ValueAt(150));
        Assert.Equal(0, ride.ValueAt(5000));
        Assert.Equal(-6, (ride with { Interpolation = Interpolation.Step }).ValueAt(199));
    }
}
