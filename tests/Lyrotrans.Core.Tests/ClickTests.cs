using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class ClickTests
{
    private static readonly IReadOnlyDictionary<string, MediaSound> s_noSounds = new Dictionary<string, MediaSound>();

    // 120 quarters a minute at 48 kHz: a quarter is 24 000 samples; bar 1 a beat after session start.
    private static readonly Session s_session = TestSessions.Of() with
    {
        Bar1Sample = 24_000,
        Tempo = TempoMap.Constant(120),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(2, 7, 8)]),
    };

    [Theory]
    [InlineData("4", 4)]
    [InlineData("2+2+3", 7)]
    [InlineData(" 3 + 3 + 2 ", 8)]
    public void A_pattern_is_read(string text, int beats)
    {
        Assert.True(AccentPattern.TryParse(text, out var pattern));
        Assert.Equal(beats, pattern.Beats);
        Assert.Equal(text.Replace(" ", string.Empty, StringComparison.Ordinal), pattern.ToString());
    }

    [Theory]
    [InlineData("")]
    [InlineData("2+")]
    [InlineData("0+3")]
    [InlineData("2+x")]
    [InlineData("200+200")]
    [InlineData("-1")]
    public void A_pattern_that_is_none_is_refused(string text) => Assert.False(AccentPattern.TryParse(text, out _));

    [Theory]
    [InlineData(4, 4, "4")]
    [InlineData(5, 4, "5")]
    [InlineData(3, 8, "3")]
    [InlineData(6, 8, "3+3")]
    [InlineData(7, 8, "2+2+3")]
    [InlineData(5, 8, "2+3")]
    [InlineData(12, 16, "3+3+3+3")]
    public void Every_meter_has_a_usual_pattern(int beats, int unit, string pattern) =>
        Assert.Equal(pattern, AccentPattern.Usual(new MeterChange(1, beats, unit)).ToString());

    [Fact]
    public void Clicks_lie_on_their_beats_with_the_accents_of_their_meter()
    {
        var beats = ClickTrack.Beats(s_session, new ClickChoices(true), new SampleRange(0, 24_000 + 96_000 + 84_000));
        Assert.Equal([0L, 24_000, 48_000, 72_000, 96_000, 120_000, 132_000, 144_000, 156_000, 168_000, 180_000, 192_000], beats.Select(b => b.Sample));
        Assert.Equal("bBbbbBbGbGbb", string.Concat(beats.Select(b => b.Strength switch { ClickStrength.Bar => 'B', ClickStrength.Group => 'G', _ => 'b' })));
    }

    [Fact]
    public void A_typed_pattern_takes_the_place_of_the_usual_one()
    {
        Assert.True(AccentPattern.TryParse("3+4", out var pattern));
        var beats = ClickTrack.Beats(s_session, new ClickChoices(true, Accents: [new MeterAccents(7, 8, pattern)]), new SampleRange(120_000, 204_000));
        Assert.Equal([1, 4], beats.Where(b => b.Strength != ClickStrength.Beat).Select(b => b.Beat.Number));
    }

    [Theory]
    [InlineData(24_000, 1, 24_000 - 96_000)]
    [InlineData(24_000, 2, 24_000 - 192_000)]
    [InlineData(0, 1, 24_000 - 192_000)]
    [InlineData(0, 0, 24_000 - 96_000)]
    [InlineData(120_000, 1, 24_000)]
    public void A_count_in_is_whole_bars_before_the_bar_of_the_start(long start, int bars, long meant) =>
        Assert.Equal(meant, ClickTrack.CountInStart(s_session, start, bars));

    [Fact]
    public void With_a_count_in_all_files_begin_early_or_the_click_alone()
    {
        var preparation = Preparation.Default(s_session, TestFormats.Any) with { From = RangeStart.Bar1 };
        SampleRange Of(ClickChoices click) => DeliveryRange.Of(s_session, preparation with { Click = click }, s_noSounds);
        Assert.Equal(24_000, Of(new ClickChoices()).Start);
        Assert.Equal(-72_000, Of(new ClickChoices(true, CountInBars: 1)).Start);
        var alone = preparation with { Click = new ClickChoices(true, CountInBars: 1, CountIn: CountIn.ClickAlone) };
        var range = DeliveryRange.Of(s_session, alone, s_noSounds);
        Assert.Equal((24_000L, -72_000L), (range.Start, range.ForClick(s_session, alone).Start));
        Assert.Equal(24_000, Of(new ClickChoices(CountInBars: 2)).Start);
    }

    [Theory]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void Parts_of_a_beat_lie_between_it_and_the_next_softer_than_both(int parts)
    {
        var range = new SampleRange(0, 204_000);
        var (whole, all) = (ClickTrack.Beats(s_session, new ClickChoices(true), range), ClickTrack.Beats(s_session, new ClickChoices(true, Parts: parts), range));
        Assert.Equal(whole, all.Where(b => b.Strength != ClickStrength.Part));
        Assert.Equal(whole.Count * parts, all.Count);
        Assert.All(all, b => Assert.Equal(s_session.Clock.SampleAt(b.Beat.Quarter), b.Sample));
        Assert.All(all.Zip(all.Skip(1)), p => Assert.Equal(p.First.Beat.Meter.QuartersPerBeat / parts, p.Second.Beat.Quarter - p.First.Beat.Quarter));
        var part = Assert.Single(ClickTrack.Notes(s_session, new ClickChoices(Midi: true, Parts: parts), range).Parts);
        Assert.Equal(all.Select(b => b.Sample), part.Notes.Select(n => s_session.Clock.SampleAt(part.StartQuarter + new Rational(n.Tick, part.TicksPerQuarter))));
        Assert.Equal(4, part.Notes.Select(n => n.Velocity).Distinct().Count());
    }

    [Theory]
    [InlineData("Click 92", 92.0, 92.0)]
    [InlineData("Click 92.5", 92.5, 92.5)]
    [InlineData("Click 66 to 116.25", 116.25, 66.0)]
    public void Its_name_says_the_tempo(string name, double first, double last)
    {
        var session = s_session with { Tempo = new TempoMap([new TempoPoint(0, Rational.FromDouble(first, 100)), new TempoPoint(8, Rational.FromDouble(last, 100))]) };
        Assert.Equal(name, ClickTrack.NameOf(session));
        string Path(bool said) => DeliveryPlan.Make(session, Preparation.Default(session, TestFormats.Any) with { Click = new ClickChoices(true, TempoInName: said) }, s_noSounds).Files.Single(f => f.Kind == PlannedKind.Click).Path;
        Assert.Equal(("Test/audio/01_Click.wav", $"Test/audio/01_{name.Replace(' ', '_')}.wav"), (Path(false), Path(true)));
    }

    [Fact]
    public void The_click_as_notes_has_the_same_beats()
    {
        var range = new SampleRange(0, 204_000);
        var beats = ClickTrack.Beats(s_session, new ClickChoices(Midi: true), range);
        var part = Assert.Single(ClickTrack.Notes(s_session, new ClickChoices(Midi: true), range).Parts);
        Assert.Equal(beats.Select(b => b.Sample), part.Notes.Select(n => s_session.Clock.SampleAt(part.StartQuarter + new Rational(n.Tick, part.TicksPerQuarter))));
        Assert.Equal(3, part.Notes.Select(n => n.Velocity).Distinct().Count());
        Assert.All(part.Notes, n => Assert.True(n.Channel == 10 && n.Tick + n.Length <= part.LengthQuarters * part.TicksPerQuarter));
    }

    [Fact]
    public void A_plan_lists_the_click_and_a_file_for_each_part()
    {
        NotePart Part(string id, bool muted) => new() { Id = id, Name = "solo", LengthQuarters = 4, Muted = muted, Notes = [new Note(0, 1, 1, 60, 1)] };
        var session = s_session with { Tracks = [new Track { Id = "n", Name = "Harp", Kind = TrackKind.Notes, Channels = 0, Parts = [Part("a", false), Part("b", true), Part("c", false)] }] };
        var preparation = Preparation.Default(session, TestFormats.Any) with { Click = new ClickChoices(true), Midi = new MidiChoices(MidiForm.FilePerPart) };
        var plan = DeliveryPlan.Make(session, preparation, s_noSounds);
        Assert.Equal("Test/audio/02_Click.wav", plan.Files.Single(f => f.Kind == PlannedKind.Click).Path);
        Assert.Equal(["Test/Test.mid", "Test/midi/01_Harp_solo.mid", "Test/midi/01_Harp_solo_2.mid"], plan.Files.Where(f => f.Kind == PlannedKind.Midi).Select(f => f.Path));
        var muted = DeliveryPlan.Make(session, preparation with { Midi = new MidiChoices(MidiForm.FilePerPart, MutedParts: true) }, s_noSounds);
        Assert.Equal(4, muted.Files.Count(f => f.Kind == PlannedKind.Midi));
    }
}
