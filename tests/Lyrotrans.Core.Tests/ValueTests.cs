using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class ValueTests
{
    [Fact]
    public void Arrays_are_equal_when_their_elements_are() => Gen.Int[0, 3].Array[0, 6].Sample(items =>
    {
        var (a, b) = (items.ToValueArray(), items.ToList().ToValueArray());
        var longer = items.Append(9).ToValueArray();
        return a == b && a.GetHashCode() == b.GetHashCode() && a != longer && a.Count == items.Length && a.SequenceEqual(items);
    });

    [Fact]
    public void The_default_array_is_empty_and_equal_to_an_empty_one()
    {
        ValueArray<string> none = default;
        Assert.Equal<ValueArray<string>>([], none);
        Assert.Empty(none);
        Assert.Throws<IndexOutOfRangeException>(() => none[0]);
    }

    [Fact]
    public void Sessions_are_equal_by_value_down_to_the_last_note()
    {
        Session Make(int velocity) => Of(Track("a", Clip("1", 0, 10))) with
        {
            Tracks = [new Track { Id = "n", Name = "n", Parts = [new NotePart { Id = "p", Name = "p", Notes = [new Note(0, 1, 1, 60, velocity)] }] }],
        };
        Assert.Equal(Make(64), Make(64));
        Assert.NotEqual(Make(64), Make(65));
    }

    [Fact]
    public void Decibels_and_ratios_undo_each_other() => Gen.Double[-120, 40].Sample(db =>
        Math.Abs(Decibels.FromRatio(Decibels.ToRatio(db)) - db) < 1e-9);

    [Theory]
    [InlineData(0, "0.0")]
    [InlineData(-2.54, "−2.5")]
    [InlineData(-0.04, "0.0")]
    [InlineData(double.NegativeInfinity, "−∞")]
    public void Decibels_are_written_with_a_true_minus(double db, string words) => Assert.Equal(words, Decibels.Words(db));

    [Fact]
    public void A_default_value_is_what_it_means()
    {
        Assert.Equal(SampleRate.Hz48000, default);
        Assert.Equal(SampleRate.Hz48000.GetHashCode(), default(SampleRate).GetHashCode());
        Assert.Equal(SampleRate.FromHz(48_000), default);
        Assert.Equal(48_000, default(SampleRate).PerSecond);
        Assert.NotEqual(SampleRate.Hz44100, default);
        Assert.Equal(FrameRate.Fps25, default);
        Assert.True(FrameRate.TryFromName("25", out var named));
        Assert.Equal(default, named);
        Assert.Equal(("25", 25, (Rational)25), (default(FrameRate).Name, default(FrameRate).Nominal, default(FrameRate).PerSecond));
        Assert.Equal(default, new Timecode(0, FrameRate.Fps25));
        Assert.Equal(default, new ValueArray<int>());
    }

    [Fact]
    public void Unity_is_exactly_one_and_silence_is_minus_infinity()
    {
        Assert.Equal(1.0, Decibels.ToRatio(0));
        Assert.Equal(double.NegativeInfinity, Decibels.FromRatio(0));
        Assert.Equal("0.0", Decibels.Words(double.NegativeZero));
    }

    [Theory]
    [InlineData(-1, true, "Dm")]
    [InlineData(0, false, "C")]
    [InlineData(-7, false, "Cb")]
    [InlineData(7, true, "A#m")]
    [InlineData(9, false, "?")]
    public void Keys_have_their_names(int sharps, bool minor, string name) => Assert.Equal(name, new KeyChange(0, sharps, minor).Name);

    [Theory]
    [InlineData(8, false, SampleEncoding.Unsigned8, 1, 8)]
    [InlineData(16, false, SampleEncoding.Integer16, 2, 16)]
    [InlineData(24, false, SampleEncoding.Integer24, 3, 24)]
    [InlineData(32, false, SampleEncoding.Integer32, 4, 32)]
    [InlineData(32, true, SampleEncoding.Float32, 4, 25)]
    [InlineData(64, true, SampleEncoding.Float64, 8, 53)]
    public void Encodings_know_their_sizes(int bits, bool isFloat, SampleEncoding encoding, int bytes, int precision)
    {
        Assert.Equal(encoding, SampleEncodings.FromBits(bits, isFloat));
        Assert.Equal((bytes, precision), (encoding.Bytes(), encoding.Precision()));
        Assert.Null(SampleEncodings.FromBits(20, isFloat));
    }

    [Fact]
    public void Handles_are_what_the_media_has_beyond_the_clip()
    {
        var clip = Clip("1", 5000, 100_000, 24_007);
        Assert.Equal(24_007, clip.HandleBefore(Media(), SampleRate.Hz48000));
        Assert.Equal(480_000 - 24_007 - 100_000, clip.HandleAfter(Media(), SampleRate.Hz48000));
        var other = Media() with { Rate = SampleRate.Hz44100, Length = 441_000 };
        Assert.Equal(new Rational(24_007L * 48_000, 44_100).RoundToEven(), clip.HandleBefore(other, SampleRate.Hz48000));
        Assert.Equal(480_000, clip.HandleBefore(other, SampleRate.Hz48000) + 100_000 + clip.HandleAfter(other, SampleRate.Hz48000));
    }

    [Fact]
    public void A_session_ends_with_its_last_clip_or_part()
    {
        var notes = new Track { Id = "n", Name = "n", Parts = [new NotePart { Id = "p", Name = "p", StartQuarter = 4, LengthQuarters = 4 }] };
        var session = Of(Track("a", Clip("1", 100, 900)), notes) with { Tempo = TempoMap.Constant(60) };
        Assert.Equal(8 * 48_000, session.EndSample);
        Assert.Equal(1000, Of(Track("a", Clip("1", 100, 900))).EndSample);
        Assert.Equal(0, Of().EndSample);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(-48_000)]
    [InlineData(10_000_001)]
    public void Rates_that_are_not_possible_are_refused(long hz) => Assert.Throws<ArgumentOutOfRangeException>(() => SampleRate.FromHz(hz));

    [Fact]
    public void A_pulled_down_rate_is_exact()
    {
        var rate = new SampleRate(new Rational(48_000_000, 1001));
        Assert.Equal(47_952, rate.HeaderHz);
        Assert.Equal(new Rational(1001, 1000), rate.SecondsOf(48_000));
        Assert.Equal(48_048, rate.Convert(48_000, SampleRate.Hz48000));
    }

    [Fact]
    public void An_error_says_file_place_problem_and_remedy()
    {
        var problem = new BadInputException(FileCodes.Empty, "a.wav", 12, "There is no format chunk.", "Export it again.");
        Assert.Equal("a.wav, byte 12: There is no format chunk. Export it again.", problem.Message);
        Assert.Equal("a.wav: It is empty.", new BadInputException(FileCodes.Empty, "a.wav", string.Empty, "It is empty.", string.Empty).Message);
    }
}
