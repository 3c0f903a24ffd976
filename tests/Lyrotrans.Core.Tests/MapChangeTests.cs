using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class MapChangeTests
{
    private static readonly Gen<MusicMap> s_map =
        from tempos in Gen.Select(Gen.Int[1, 40], Gen.Int[40, 240], Gen.Bool).List[1, 6]
        from bar1 in Gen.Long[0, 200_000]
        from beats in Gen.Int[2, 9]
        select new MusicMap(Tempo(tempos), new MeterMap([new MeterChange(1, beats, 8)]), [new KeyChange(0, 2, false)], bar1);

    private static readonly Gen<Session> s_session =
        from map in s_map
        from gaps in Gen.Select(Gen.Long[0, 60_000], Gen.Long[1, 90_000]).List[1, 12]
        from notes in Gen.Select(Gen.Long[0, 9_000], Gen.Long[1, 2_000], Gen.Int[0, 127]).List[0, 20]
        from ticks in Gen.Int[0, 3].Select(i => new[] { 96, 120, 480, 960 }[i])
        select Make(map, gaps, notes, ticks);

    private static TempoMap Tempo(List<(int Step, int Tempo, bool Ramp)> steps)
    {
        Rational at = -4;
        var points = new List<TempoPoint>();
        foreach (var (step, tempo, ramp) in steps)
        {
            points.Add(new TempoPoint(at, tempo, ramp));
            at += step;
        }

        return new TempoMap(points.ToValueArray());
    }

    private static Session Make(MusicMap map, List<(long Gap, long Length)> gaps, List<(long Tick, long Length, int Key)> notes, int ticks)
    {
        var clips = new List<Clip>();
        var at = 0L;
        foreach (var (gap, length) in gaps)
        {
            at += gap;
            clips.Add(new Clip { Id = $"c{clips.Count}", Name = "c", Media = "m", Start = at, Length = length });
            at += length;
        }

        var part = new NotePart
        {
            Id = "p",
            Name = "p",
            StartQuarter = -1,
            LengthQuarters = 100,
            TicksPerQuarter = ticks,
            Notes = notes.OrderBy(n => n.Tick).Select(n => new Note(n.Tick, n.Length, 1, n.Key, 90)).ToValueArray(),
        };
        return new Session
        {
            Name = "s",
            Tempo = map.Tempo,
            Meters = map.Meters,
            Keys = map.Keys,
            Bar1Sample = map.Bar1Sample,
            Media = [new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Length = 10_000_000 }],
            Markers = [new Marker("a", "a", 12_345), new Marker("b", "b", 50_000, 700)],
            Tracks =
            [
                new Track { Id = "t", Name = "t", Lanes = [new Lane("l", clips.ToValueArray())], FaderAutomation = new Automation([new AutomationPoint(5_000, -3), new AutomationPoint(80_000, 0)]) },
                new Track { Id = "n", Name = "n", Kind = TrackKind.Notes, Channels = 0, Parts = [part] },
            ],
        };
    }

    [Fact]
    public void What_keeps_its_samples_does_not_move_and_what_keeps_its_quarters_goes_with_the_grid() =>
        Gen.Select(s_session, s_map).Sample((session, map) =>
        {
            var after = MapChange.Apply(session, map, new Anchors());
            Assert.Equal(map, MusicMap.Of(after));
            Assert.Equal(session.Tracks[0], after.Tracks[0]);
            Assert.Equal(session.Markers, after.Markers);
            Assert.Equal(session.Tracks[1].Parts, after.Tracks[1].Parts);
        });

    [Fact]
    public void Sound_that_keeps_its_quarters_lies_on_them_and_breaks_no_rule() =>
        Gen.Select(s_session, s_map).Sample((session, map) =>
        {
            var after = MapChange.Apply(session, map, new Anchors(Anchor.Quarters, Anchor.Quarters, Anchor.Quarters));
            Assert.Empty(SessionRules.Check(after));
            var (before, now) = (session.Tracks[0].Lanes[0].Clips, after.Tracks[0].Lanes[0].Clips);
            Assert.Equal(before.Select(c => c.Length), now.Select(c => c.Length));
            Assert.Equal(after.Clock.SampleAt(session.Clock.QuarterAt(before[0].Start)), now[0].Start);
            for (var i = 1; i < before.Count; i++)
            {
                var meant = after.Clock.SampleAt(session.Clock.QuarterAt(before[i].Start));
                Assert.True(before[i].Start == before[i - 1].End ? now[i].Start == now[i - 1].End : now[i].Start == Math.Max(meant, now[i - 1].End));
            }

            Assert.Equal(after.Clock.SampleAt(session.Clock.QuarterAt(12_345)), after.Markers.Single(m => m.Id == "a").Sample);
        });

    [Fact]
    public void Notes_that_keep_their_samples_sound_when_they_did() =>
        Gen.Select(s_session, s_map).Sample((session, map) =>
        {
            var after = MapChange.Apply(session, map, new Anchors(Notes: Anchor.Samples));
            var (a, b) = (session.Tracks[1].Parts[0], after.Tracks[1].Parts[0]);
            for (var i = 0; i < a.Notes.Count; i++)
            {
                var meant = session.Clock.ExactSampleAt(a.StartQuarter + new Rational(a.Notes[i].Tick, a.TicksPerQuarter));
                var found = after.Clock.ExactSampleAt(b.StartQuarter + new Rational(b.Notes[i].Tick, b.TicksPerQuarter));

                // Half a fine tick at 40 quarters a minute, and the part's own rounding.
                Assert.InRange((found - meant).ToDouble(), -2.5, 2.5);
            }
        });

    [Fact]
    public void The_same_map_moves_nothing() =>
        s_session.Sample(session =>
        {
            var effect = MapChange.Measure(session, MusicMap.Of(session), new Anchors(Anchor.Quarters, Anchor.Quarters, Anchor.Quarters));
            Assert.Equal(new MapEffect(0, 0, 0, 0, 0, 0, 0), effect);
        });

    [Fact]
    public void What_would_move_is_counted()
    {
        var session = Make(new MusicMap(TempoMap.Constant(60), MeterMap.FourFour, [], 0), [(48_000, 1_000), (47_000, 1_000)], [(480, 10, 60)], 480);
        var faster = new MusicMap(TempoMap.Constant(120), MeterMap.FourFour, [], 0);
        var follows = MapChange.Measure(session, faster, new Anchors(Anchor.Quarters, Anchor.Quarters, Anchor.Quarters));
        Assert.Equal((2, -48_000L, 0), (follows.Clips, follows.LargestClip, follows.Pushed));
        Assert.Equal((0, 0L), (follows.Notes, follows.LargestNote));
        Assert.Equal((2, -25_000L), (follows.Markers, follows.LargestMarker));
        var stays = MapChange.Measure(session, faster, new Anchors());
        Assert.Equal((0, 0), (stays.Clips, stays.Markers));
    }

    [Fact]
    public void A_map_that_says_nothing_is_known()
    {
        Assert.True(MusicMap.Of(new Session { Name = "x" }).IsDefault);
        Assert.False(MusicMap.Of(new Session { Name = "x", Bar1Sample = 1 }).IsDefault);
        Assert.False(MusicMap.Of(new Session { Name = "x", Tempo = TempoMap.Constant(119) }).IsDefault);
    }
}
