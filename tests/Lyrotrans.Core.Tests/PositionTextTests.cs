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
    [InlineData("samples", "99999999999999")]
    [InlineData("colour", "1")]
    public void What_is_no_place_is_refused(string kind, string text) => Assert.Null(PositionText.Parse(s_session, kind, text));
}
