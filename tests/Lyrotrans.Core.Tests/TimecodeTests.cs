using CsCheck;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class TimecodeTests
{
    private static readonly Gen<FrameRate> s_rates = Gen.Int[0, FrameRate.All.Count - 1].Select(i => FrameRate.All[i]);

    private static readonly SampleRate[] s_rateChoices = [
        SampleRate.FromHz(44_100), SampleRate.FromHz(48_000), SampleRate.FromHz(96_000), new SampleRate(new Rational(48_000_000, 1001))];

    private static readonly Gen<SampleRate> s_sampleRates = Gen.Int[0, 3].Select(i => s_rateChoices[i]);

    [Fact]
    public void Every_frame_has_a_label_that_names_it() => Gen.Select(s_rates, Gen.Double.Unit).Sample((rate, at) =>
    {
        var code = new Timecode((long)(at * (rate.FramesPerDay - 1)), rate);
        return Timecode.TryParse(code.ToString(), rate, out var back) && back == code;
    });

    [Theory]
    [InlineData("29.97 drop", 1798, "00:00:59;28")]
    [InlineData("29.97 drop", 1800, "00:01:00;02")]
    [InlineData("29.97 drop", 17_982, "00:10:00;00")]
    [InlineData("29.97 drop", 107_892, "01:00:00;00")]
    [InlineData("59.94 drop", 3600, "00:01:00;04")]
    [InlineData("29.97", 1800, "00:01:00:00")]
    [InlineData("25", 900_000, "10:00:00:00")]
    [InlineData("23.976", 24, "00:00:01:00")]
    public void Known_labels(string rate, long frames, string label)
    {
        Assert.True(FrameRate.TryFromName(rate, out var known));
        Assert.Equal(label, new Timecode(frames, known).ToString());
        Assert.True(Timecode.TryParse(label, known, out var back));
        Assert.Equal(frames, back.Frames);
    }

    [Fact]
    public void Drop_frame_keeps_an_hour_within_two_frames_of_the_clock()
    {
        var hour = Timecode.FromLabel(1, 0, 0, 0, FrameRate.Fps2997Drop);
        var seconds = hour.Frames / FrameRate.Fps2997Drop.PerSecond;
        Assert.InRange(seconds.ToDouble(), 3599.99, 3600.01);
    }

    [Theory]
    [InlineData("00:01:00;00", "29.97 drop")]
    [InlineData("00:00:00:25", "25")]
    [InlineData("24:00:00:00", "25")]
    [InlineData("00:60:00:00", "25")]
    [InlineData("0:0", "25")]
    public void Labels_that_do_not_exist_are_refused(string label, string rate)
    {
        Assert.True(FrameRate.TryFromName(rate, out var known));
        Assert.False(Timecode.TryParse(label, known, out _));
    }

    [Fact]
    public void Sample_to_timecode_and_back_is_exact() => Gen.Select(s_sampleRates, s_rates, Gen.Long[0, 3_000_000], Gen.Long[-20_000_000, 2_000_000_000]).Sample((rate, frames, start, sample) =>
    {
        var scale = new TimecodeScale(rate, new Timecode(start, frames));
        var position = scale.At(sample);
        return scale.SampleOf(position) == sample && position.SubSamples >= 0
            && scale.FirstSampleOf(position.Frame with { Frames = position.Frame.Frames + 1 }) > sample;
    });

    [Fact]
    public void Time_references_go_both_ways() => Gen.Select(s_rates, Gen.Long[0, 2_000_000], Gen.Long[0, 500_000_000]).Sample((frames, start, sample) =>
    {
        var scale = new TimecodeScale(SampleRate.Hz48000, new Timecode(start, frames));
        return scale.SampleOfTimeReference(scale.TimeReference(sample, SampleRate.Hz48000), SampleRate.Hz48000) is var back && Math.Abs(back - sample) <= 1;
    });

    [Fact]
    public void Time_reference_counts_from_midnight()
    {
        var scale = new TimecodeScale(SampleRate.Hz48000, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25));
        Assert.Equal(1_728_000_000, scale.TimeReference(0, SampleRate.Hz48000));
        Assert.Equal(48_001, scale.SampleOfTimeReference(1_728_048_001, SampleRate.Hz48000));
    }
}
