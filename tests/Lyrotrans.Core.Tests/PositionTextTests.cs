using CsCheck;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Core.Positions;

namespace Lyrotrans.Core.Tests;

public class PositionTextTests
{
    private static readonly Session s_session = new()
    {
        Name = "t",
        Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
        Bar1Sample = 31_304,
        Tempo = TempoMap.Constant(92),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8)]),
    };

    [Theory]
    [InlineData("10:00:01:00", 48_000)]
    [InlineData("1 104 336", 1_104_336)]
    [InlineData("1.1.0", 31_304)]
    [InlineData("2.5 s", 120_000)]
    [InlineData(" the comet ", 500)]
    [InlineData("Twice", 700)]
    public void A_place_may_be_typed_in_any_way_that_can_be_told_apart(string typed, long sample)
    {
        var session = s_session with { Markers = [new Marker("1", "The comet", 500, 250), new Marker("2", "Twice", 700), new Marker("3", "Twice", 900)] };
        Assert.Equal(sample, PositionText.ParseAny(session, typed));
        Assert.Equal(sample + (typed.Contains("comet", StringComparison.Ordinal) ? 250 : 0), PositionText.ParseAny(session, typed, atEnd: true));
    }

    [Theory]
    [InlineData("2.5")]
    [InlineData("noon")]
    [InlineData("")]
    [InlineData("10:00:00:25")]
    [InlineData("99999999999999999999 s")]
    public void What_may_mean_two_places_or_none_is_none(string typed) => Assert.Null(PositionText.ParseAny(s_session, typed));

    [Fact]
    public void One_instant_stands_in_four_forms()
    {
        var text = PositionText.Of(s_session, 1_104_336);
        Assert.Equal("1\u202f104\u202f336", text.Samples);
        Assert.Equal("10:00:23:00 +336", text.Timecode);
        Assert.Equal("9.3.266", text.Bars);
        Assert.Equal("23.007 000", text.Seconds);
        Assert.Equal("1.1.0", PositionText.Of(s_session, 31_304).Bars);
        Assert.Equal("0.4.0", PositionText.Of(s_session, 0).Bars);
    }

    [Fact]
    public void What_stands_there_can_be_typed_again() => Gen.Long[-500_000, 100_000_000].Sample(sample =>
    {
        var text = PositionText.Of(s_session, sample);
        return PositionText.Parse(s_session, "samples", text.Samples) == sample && PositionText.Parse(s_session, "timecode", text.Timecode) == sample
            && Math.Abs(PositionText.Parse(s_session, "seconds", text.Seconds)!.Value - sample) <= 1
            && Math.Abs(PositionText.Parse(s_session, "bars", text.Bars)!.Value - sample) <= 17;
    });

    [Theory]
    [InlineData("samples", "12.5")]
    [InlineData("timecode", "10:00:00:25")]
    [InlineData("bars", "x")]
    [InlineData("seconds", "1e9")]
    [InlineData("seconds", "99999999999999999999")]
    [InlineData("samples", "99999999999999")]
    [InlineData("colour", "1")]
    public void What_is_no_place_is_refused(string kind, string text) => Assert.Null(PositionText.Parse(s_session, kind, text));
}
