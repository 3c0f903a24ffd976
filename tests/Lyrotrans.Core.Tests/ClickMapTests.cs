using CsCheck;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Tempo maps read off clicks, of maps that are known.</summary>
public class ClickMapTests
{
    private static readonly SampleRate s_rate = SampleRate.Hz48000;

    private static readonly Gen<Rational> s_tempo = Gen.Select(Gen.Int[50, 200], Gen.Int[0, 99], Gen.Int[0, 2]).Select((whole, hundredths, decimals) =>
        new Rational((whole * 100) + (decimals == 2 ? hundredths : decimals == 1 ? hundredths / 10 * 10 : 0), 100));

    private static readonly Gen<(Rational Tempo, bool Ramp, int Bars, int Beats)[]> s_pieces = Gen.Select(s_tempo, Gen.Bool, Gen.Int[4, 12], Gen.Int[2, 7]).Array[1, 5];

    private static Session Piece((Rational Tempo, bool Ramp, int Bars, int Beats)[] pieces, bool ramps, bool meters, long bar1)
    {
        var (points, changes, bar) = (new List<TempoPoint>(), new List<MeterChange>(), 1L);
        var quarter = Rational.Zero;
        foreach (var piece in pieces)
        {
            var beats = meters ? piece.Beats : 4;
            points.Add(new TempoPoint(quarter, piece.Tempo, ramps && piece.Ramp));
            if (changes.Count == 0 || changes[^1].Beats != beats)
            {
                changes.Add(new MeterChange(bar, beats, 4));
            }

            (bar, quarter) = (bar + piece.Bars, quarter + (piece.Bars * beats));
        }

        return new Session { Name = "t", Rate = s_rate, Tempo = new TempoMap(points.ToValueArray()), Meters = new MeterMap(changes.ToValueArray()), Bar1Sample = bar1 };
    }

    private static HeardClick[] Clicks(Session session, int bars, int countIn = 0, ClickChoices? choices = null, bool byPitch = false)
    {
        var range = new SampleRange(session.Clock.SampleAt(session.Meters.StartOfBar(1 - countIn)), session.Clock.SampleAt(session.Meters.StartOfBar(1 + bars)));
        return [.. ClickTrack.Beats(session, choices ?? new ClickChoices(), range).Select(b => new HeardClick(b.Sample, byPitch ? -6 : b.Strength switch { ClickStrength.Bar => -6, ClickStrength.Group => -9, _ => -12 }, b.Strength == ClickStrength.Beat ? 1100 : 1760))];
    }

    private static int Bars((Rational Tempo, bool Ramp, int Bars, int Beats)[] pieces) => pieces.Sum(p => p.Bars);

    [Fact]
    public void One_tempo_is_told_to_its_decimals_with_and_without_count_in() =>
        Gen.Select(s_tempo, Gen.Int[2, 7], Gen.Int[0, 2], Gen.Long[0, 300_000], Gen.Bool).Sample((tempo, beats, countIn, bar1, byPitch) =>
        {
            var session = Piece([(tempo, false, 40, beats)], false, true, bar1 + 1_000_000);
            var read = ClickMap.Read(Clicks(session, 40, countIn, null, byPitch), s_rate, ClickNote.Quarter, countIn)!;
            Assert.Equal(session.Tempo, read.Map.Tempo);
            Assert.Equal(session.Meters, read.Map.Meters);
            Assert.Equal(session.Bar1Sample, read.Map.Bar1Sample);
            Assert.Equal((0, 0, countIn, byPitch ? ClickAccents.Pitch : ClickAccents.Level), (read.Missing, read.Strays, read.CountIn, read.Accents));
            Assert.InRange(read.Earliest, -1, 0);
            Assert.InRange(read.Latest, 0, 1);
        });

    // Tempos that are nearly the same part at a beat or two that nobody can tell.
    private static bool Differ((Rational Tempo, bool Ramp, int Bars, int Beats)[] pieces) => pieces.Zip(pieces.Skip(1)).All(p => Math.Abs((p.First.Tempo - p.Second.Tempo).ToDouble()) >= 1);

    [Fact]
    public void Steps_are_told_from_ramps_and_lie_where_they_do() => s_pieces.Where(Differ).Sample(pieces =>
    {
        var session = Piece(pieces, false, false, 96_000);
        var read = ClickMap.Read(Clicks(session, Bars(pieces)), s_rate, ClickNote.Quarter)!;
        Assert.DoesNotContain(read.Map.Tempo.Points, p => p.Ramp);
        Assert.InRange(read.Earliest, -2, 0);
        Assert.InRange(read.Latest, 0, 2);
        var wanted = session.Tempo.Points.Where((p, i) => i == 0 || session.Tempo.Points[i - 1].QuartersPerMinute != p.QuartersPerMinute).ToList();
        Assert.Equal(wanted.Select(p => p.Quarter), read.Map.Tempo.Points.Select(p => p.Quarter));
        Assert.All(wanted.Zip(read.Map.Tempo.Points), p => Assert.InRange(Math.Abs((p.First.QuartersPerMinute - p.Second.QuartersPerMinute).ToDouble()), 0, 0.05));
    });

    // Where the tempo doubles within a bar or two, a ramp cannot be told from clicks that are a little off.
    private static bool Gentle((Rational Tempo, bool Ramp, int Bars, int Beats)[] pieces) =>
        pieces.Zip(pieces.Skip(1)).All(p => !p.First.Ramp || Math.Abs((p.First.Tempo - p.Second.Tempo).ToDouble()) <= 5 * p.First.Bars * p.First.Beats);

    [Fact]
    public void Ramps_are_ramps_and_no_click_is_far_off() => s_pieces.Where(Gentle).Sample(pieces =>
    {
        var session = Piece(pieces, true, true, 96_000);
        var read = ClickMap.Read(Clicks(session, Bars(pieces)), s_rate, ClickNote.Quarter)!;
        Assert.InRange(read.Earliest, -2, 0);
        Assert.InRange(read.Latest, 0, 2);
        Assert.InRange(read.Map.Tempo.Points.Count, 1, pieces.Sum(p => p.Bars * p.Beats));
    });

    [Fact]
    public void A_ramp_between_two_tempos_is_three_points()
    {
        var session = Piece([(92, false, 8, 4), (92, true, 4, 4), (116, false, 8, 4)], true, false, 96_000);
        var points = ClickMap.Read(Clicks(session, 20), s_rate)!.Map.Tempo.Points;
        Assert.Equal([(0, 92, false), (32, 92, true), (48, 116, false)], points.Select(p => (p.Quarter.RoundToEven(), p.QuartersPerMinute.RoundToEven(), p.Ramp)));
    }

    [Fact]
    public void Meters_change_where_the_accents_do() => s_pieces.Where(p => p.All(x => x.Beats > 1)).Sample(pieces =>
    {
        var session = Piece(pieces, false, true, 0);
        var read = ClickMap.Read(Clicks(session, Bars(pieces)), s_rate, ClickNote.Quarter)!;

        // The last bar ends with the file: nothing says how long it is.
        Assert.Equal(session.Meters.Changes.Where(c => c.Bar < Bars(pieces)), read.Map.Meters.Changes);
    });

    [Theory]
    [InlineData("2+2+3", 7)]
    [InlineData("3+2", 5)]
    [InlineData("3+3", 6)]
    public void Groups_within_a_bar_are_one_bar(string text, int beats)
    {
        Assert.True(AccentPattern.TryParse(text, out var pattern));
        var session = new Session { Name = "t", Rate = s_rate, Tempo = TempoMap.Constant(110), Meters = new MeterMap([new MeterChange(1, beats, 8)]) };
        var choices = new ClickChoices(Accents: [new MeterAccents(beats, 8, pattern)]);
        var by = ClickMap.Read(Clicks(session, 16, 0, choices), s_rate, ClickNote.Eighth)!;
        Assert.Equal((session.Meters, session.Tempo), (by.Map.Meters, by.Map.Tempo));

        // By pitch alone a bar of two equal groups is a bar of each: nothing tells them apart.
        var pitch = ClickMap.Read(Clicks(session, 16, 0, choices, byPitch: true), s_rate)!;
        Assert.Equal((text == "3+3" ? 3 : beats, ClickNote.Eighth), (pitch.Map.Meters.Changes[0].Beats, text == "3+3" ? ClickNote.Eighth : pitch.Note));
    }

    [Fact]
    public void What_is_missing_is_counted_over_and_what_is_on_no_beat_left_out()
    {
        var session = Piece([(92, false, 30, 4)], false, false, 48_000);
        var clicks = Clicks(session, 30).Where((_, i) => i is not (5 or 6 or 40 or 77)).ToList();
        clicks.Insert(20, new HeardClick(clicks[19].Sample + 9000, -13, 1100));
        var read = ClickMap.Read(clicks, s_rate)!;
        Assert.Equal((4, 1, 116), (read.Missing, read.Strays, read.Clicks));
        Assert.Equal((session.Tempo, session.Meters, 48_000), (read.Map.Tempo, read.Map.Meters, read.Map.Bar1Sample));
    }

    [Fact]
    public void A_count_in_that_is_all_alike_lies_before_bar_1()
    {
        var session = Piece([(100, false, 20, 3)], false, true, 200_000);
        var clicks = Clicks(session, 20, 1).Select((c, i) => i < 3 ? c with { LevelDb = -6, Hz = 1760 } : c).ToList();
        Assert.Equal(200_000, ClickMap.Read(clicks, s_rate)!.Map.Bar1Sample);
        clicks = [.. Clicks(session, 20, 1).Select((c, i) => i < 3 ? c with { LevelDb = -12, Hz = 1100 } : c)];
        Assert.Equal(200_000, ClickMap.Read(clicks, s_rate)!.Map.Bar1Sample);
    }

    [Theory]
    [InlineData(0L, 0)]
    [InlineData(90_000L, 1)]
    [InlineData(192_000L, 2)]
    [InlineData(180_000L, 2)]
    [InlineData(900_000L, 0)]
    public void Where_other_sound_begins_tells_the_count_in(long firstSound, int bars)
    {
        var session = Piece([(120, false, 20, 4)], false, false, 0);
        Assert.Equal(bars, ClickMap.Read(Clicks(session, 20), s_rate, null, null, firstSound)!.CountIn);
    }

    [Fact]
    public void Unsteady_clicks_keep_one_tempo_and_say_how_far_they_are_off()
    {
        var dice = new Random(4);
        var session = Piece([(96, false, 60, 4)], false, false, 96_000);
        var read = ClickMap.Read([.. Clicks(session, 60).Select(c => c with { Sample = c.Sample + dice.Next(-2, 3) })], s_rate)!;
        Assert.Single(read.Map.Tempo.Points);
        Assert.InRange((read.Map.Tempo.Points[0].QuartersPerMinute - 96).ToDouble(), -0.01, 0.01);
        Assert.InRange(read.Latest - read.Earliest, 3, 10);
    }

    [Fact]
    public void Music_is_no_click()
    {
        var dice = new Random(8);
        var at = 0L;
        Assert.Null(ClickMap.Read([.. Enumerable.Range(0, 300).Select(_ => new HeardClick(at += dice.Next(3000, 60_000), dice.Next(-30, 0), dice.Next(200, 4000)))], s_rate));
        Assert.Null(ClickMap.Read([], s_rate));
        Assert.Null(ClickMap.Read([new HeardClick(0, 0, 1000), new HeardClick(24_000, 0, 1000)], s_rate));
    }
}
