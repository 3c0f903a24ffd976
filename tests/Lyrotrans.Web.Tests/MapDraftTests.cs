using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Web.Surveying;

namespace Lyrotrans.Web.Tests;

public class MapDraftTests
{
    private static readonly Session s_session = new()
    {
        Name = "t",
        Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
        Bar1Sample = 31_304,
        Tempo = new TempoMap([new TempoPoint(-1, 92), new TempoPoint(48, 92, Ramp: true), new TempoPoint(new Rational(193, 3), new Rational(60_000_000, 517_241))]),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8)]),
        Keys = [new KeyChange(-1, -1, true), new KeyChange(20, 6, false)],
    };

    private static MapDraft Draft(params IEnumerable<MapRowText> rows) => new(1, "31 304", [.. rows]);

    [Fact]
    public void A_map_as_rows_is_the_same_map_again_exactly()
    {
        var rows = MapDraft.RowsOf(s_session).ToList();
        Assert.Equal(["0.4.0", "0.4.0", "1.1.0"], rows.Take(3).Select(r => r.At));
        Assert.Equal(MusicMap.Of(s_session), Draft(rows).Parse(s_session));
    }

    [Fact]
    public void Any_map_as_rows_is_the_same_map_again() =>
        (from tempos in Gen.Select(Gen.Int[1, 5000], Gen.Int[60_000, 16_000_000], Gen.Bool).List[1, 8]
         from meters in Gen.Select(Gen.Int[1, 9], Gen.Int[1, 12], Gen.Int[0, 5]).List[1, 5]
         select (tempos, meters)).Sample(t =>
         {
             Rational quarter = -3;
             var points = new List<TempoPoint>();
             foreach (var (step, micros, ramp) in t.tempos)
             {
                 points.Add(new TempoPoint(quarter, new Rational(60_000_000, micros), ramp));
                 quarter += new Rational(step, 480);
             }

             var bar = 0L;
             var changes = t.meters.Select(m => new MeterChange(bar += m.Item1, m.Item2, 1 << m.Item3)).ToValueArray();
             var session = s_session with { Tempo = new TempoMap(points.ToValueArray()), Meters = new MeterMap(changes) };
             return Draft(MapDraft.RowsOf(session)).Parse(session) == MusicMap.Of(session);
         });

    [Theory]
    [InlineData("tempo", "1.1.0", "0", "no tempo")]
    [InlineData("tempo", "1.1.0", "1001", "no tempo")]
    [InlineData("tempo", "here", "90", "no place")]
    [InlineData("tempo", "0.4.0", "90", "Two tempos")]
    [InlineData("meter", "3.2.0", "4/4", "begins with a bar")]
    [InlineData("meter", "3", "4", "no meter")]
    [InlineData("meter", "3", "0/4", "no meter")]
    [InlineData("meter", "17.1.0", "4/4", "Two meters")]
    [InlineData("key", "2.1.0", "Hm", "no key")]
    public void A_row_that_cannot_be_understood_is_named(string kind, string at, string value, string words)
    {
        var rows = MapDraft.RowsOf(s_session).Append(new MapRowText(kind, at, value));
        Assert.Contains(words, Assert.Throws<FormatException>(() => Draft(rows).Parse(s_session)).Message);
    }

    [Fact]
    public void A_map_needs_a_tempo_a_meter_and_a_place_for_bar_1()
    {
        var rows = MapDraft.RowsOf(s_session).ToList();
        Assert.Throws<FormatException>(() => Draft(rows.Where(r => r.Kind != "tempo")).Parse(s_session));
        Assert.Throws<FormatException>(() => Draft(rows.Where(r => r.Kind != "meter")).Parse(s_session));
        Assert.Throws<FormatException>(() => (Draft(rows) with { Bar1 = "somewhere" }).Parse(s_session));
        Assert.Equal(48_000, (Draft(rows) with { Bar1 = "10:00:01:00" }).Parse(s_session).Bar1Sample);
        Assert.Equal(-5, (Draft(rows) with { Bar1 = "−5" }).Parse(s_session).Bar1Sample);
    }

    [Fact]
    public void A_row_takes_a_ratio_and_unusual_units()
    {
        var rows = MapDraft.RowsOf(s_session).Append(new MapRowText("meter", "30", "5/6")).Append(new MapRowText("tempo", "31.2.1/3", "92.375", true));
        var map = Draft(rows).Parse(s_session);
        Assert.Equal(new MeterChange(30, 5, 6), map.Meters.Changes[^1]);
        Assert.Equal(new Rational(739, 8), map.Tempo.Points[^1].QuartersPerMinute);
        Assert.Equal(map.Meters.QuarterOf(new MusicalPosition(31, 2, new Rational(1, 3))), map.Tempo.Points[^1].Quarter);
    }

    [Fact]
    public void Keys_are_read_as_they_are_named()
    {
        for (var sharps = -7; sharps <= 7; sharps++)
        {
            foreach (var minor in new[] { false, true })
            {
                var key = new KeyChange(3, sharps, minor);
                Assert.True(KeyChange.TryParse(key.Name, 3, out var back));
                Assert.Equal(key, back);
            }
        }

        Assert.False(KeyChange.TryParse("", 0, out _));
        Assert.False(KeyChange.TryParse("m", 0, out _));
    }
}
