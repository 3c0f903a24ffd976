using CsCheck;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Two sessions on one timeline.</summary>
public class SideBySideTests
{
    private static readonly Gen<SampleRate> s_rate = Gen.Int[0, 3].Select(i => SampleRate.FromHz(new[] { 44_100, 48_000, 88_200, 96_000 }[i]));

    private static Session One(string name, SampleRate rate, params (long Start, long Length, long Fade)[] clips) => new()
    {
        Name = name,
        Rate = rate,
        Bar1Sample = 4800,
        Tempo = TempoMap.Constant(93),
        Media = [new Media { Id = "m", FileName = $"{name}.wav", Rate = rate, Length = 1 << 30, Sha256 = name, Place = MediaPlace.Beside }],
        Markers = [new Marker("k", "here", 777, 33)],
        Tracks =
        [
            new Track
            {
                Id = "t",
                Name = name,
                Output = "bus",
                Sends = [new Send("hall", -3, false, 0, new Automation([new AutomationPoint(10, -3), new AutomationPoint(5000, 0)]))],
                Lanes = [new Lane("l", [.. clips.Select((c, i) => new Clip { Id = $"c{i}", Name = "c", Media = "m", Start = c.Start, Length = c.Length, SourceOffset = c.Start, FadeIn = new Fade(c.Fade), GainCurve = new Automation([new AutomationPoint(0, 0), new AutomationPoint(c.Length, -6)]) })])],
            },
            new Track { Id = "n", Name = "notes", Kind = TrackKind.Notes, Channels = 0, Parts = [new NotePart { Id = "p", Name = "p", StartQuarter = 3, LengthQuarters = 8, Notes = [new Note(480, 240, 1, 60, 90)] }] },
            new Track { Id = "bus", Name = "bus", Kind = TrackKind.Bus, Channels = 2 },
            new Track { Id = "hall", Name = "hall", Kind = TrackKind.Return, Channels = 2 },
            new Track { Id = "master", Name = "master", Kind = TrackKind.Master, Channels = 2 },
        ],
    };

    [Fact]
    public void Everything_of_the_second_lies_where_it_did_in_time() => Gen.Select(s_rate, s_rate, Gen.Long[0, 10_000_000], Gen.Long[0, 3_000_000], Gen.Long[1, 100_000], Gen.Long[0, 900]).Sample((a, b, by, start, length, fade) =>
    {
        var (first, second) = (One("a", a, (0, 1000, 0)), One("b", b, (start, length + 900, fade), (start + length + 900, length, 0)));
        var joined = SideBySide.Join(first, second, by, "x-");
        Assert.Empty(SessionRules.Check(joined));
        Assert.Equal((first.Rate, first.Bar1Sample, first.Tempo), (joined.Rate, joined.Bar1Sample, joined.Tempo));
        long At(long sample) => b.Convert(sample, a) + by;
        var (clips, before) = (joined.Tracks.First(t => t.Id == "x-t").Lanes[0].Clips, second.Tracks[0].Lanes[0].Clips);
        foreach (var (clip, was) in clips.Zip(before))
        {
            Assert.Equal((At(was.Start), At(was.End), was.SourceOffset, "x-m"), (clip.Start, clip.End, clip.SourceOffset, clip.Media));
            Assert.InRange(clip.FadeIn.Length - b.Convert(was.FadeIn.Length, a), -1, 1);
        }

        Assert.Equal(clips[0].End, clips[1].Start);

        // Its notes sound when they did, though its bars were others.
        var (was2, now) = (second.Tracks[1].Parts[0], joined.Tracks.First(t => t.Id == "x-n").Parts[0]);
        var (old, made) = (second.Clock.ExactSampleAt(was2.StartQuarter + 1), joined.Clock.ExactSampleAt(now.StartQuarter + new Rational(now.Notes[0].Tick, now.TicksPerQuarter)));
        Assert.InRange((a.SamplesIn(b.SecondsOf(old)) + by - made).ToDouble(), -1.5, 1.5);
    });

    [Fact]
    public void What_feeds_what_stays_within_each_and_there_is_one_master()
    {
        var joined = SideBySide.Join(One("a", SampleRate.Hz48000, (0, 9, 0)), One("b", SampleRate.Hz48000, (5, 9, 0)), 100, "x-");
        Assert.Equal(9, joined.Tracks.Select(t => t.Id).Distinct().Count());
        Assert.Equal(["t", "n", "bus", "hall", "master", "x-t", "x-n", "x-bus", "x-hall"], joined.Tracks.Select(t => t.Id));
        var second = joined.Tracks.First(t => t.Id == "x-t");
        Assert.Equal(("x-bus", "x-hall", 110), (second.Output, second.Sends[0].Target, second.Sends[0].LevelAutomation!.Points[0].Sample));
        Assert.Equal(105, second.Lanes[0].Clips[0].Start);
    }

    [Fact]
    public void The_same_medium_is_there_once()
    {
        var (first, second) = (One("a", SampleRate.Hz48000, (0, 9, 0)), One("a", SampleRate.Hz48000, (5, 9, 0)));
        Assert.Single(SideBySide.Join(first, second, 0, "x-").Media);

        // Under another identifier the same file is the same medium; under the same one another file is another.
        var renamed = second with { Media = [second.Media[0] with { Id = "other" }], Tracks = [second.Tracks[0] with { Output = null, Sends = [], Lanes = [second.Tracks[0].Lanes[0] with { Clips = [second.Tracks[0].Lanes[0].Clips[0] with { Media = "other" }] }] }] };
        Assert.Equal("m", SideBySide.Join(first, renamed, 0, "x-").Tracks.First(t => t.Id == "x-t").Lanes[0].Clips[0].Media);
        Assert.Equal(["m", "x-m"], SideBySide.Join(first, One("b", SampleRate.Hz48000, (5, 9, 0)), 0, "x-").Media.Select(m => m.Id));
    }

    [Fact]
    public void What_gives_way_is_said()
    {
        var first = One("a", SampleRate.Hz48000, (0, 9, 0));
        Assert.Empty(SideBySide.Gives(first, One("b", SampleRate.Hz48000, (0, 9, 0))));
        var second = One("b", SampleRate.Hz44100, (1, 9, 0), (147, 20, 0));
        second = second with { Start = new Timecode(5, FrameRate.Fps30), Tracks = [.. second.Tracks.Select(t => t.Kind == TrackKind.Master ? t with { FaderDb = -3 } : t)] };
        var said = string.Join("; ", SideBySide.Gives(first, second));
        Assert.Contains("44100 Hz becomes 48000 Hz, and 1 of its clips begin between two samples", said, StringComparison.Ordinal);
        Assert.Contains("30 frames a second", said, StringComparison.Ordinal);
        Assert.Contains("its master master has a fader", said, StringComparison.Ordinal);
        Assert.True(SideBySide.IsOther(first, second with { Tracks = [second.Tracks[0]] }));
        Assert.False(SideBySide.IsOther(first, One("a", SampleRate.Hz48000)));
    }

    [Fact]
    public void Moving_by_nothing_at_the_same_rate_changes_nothing()
    {
        var session = One("a", SampleRate.Hz48000, (0, 1000, 10), (1000, 30, 0));
        Assert.Equal(session, SessionMove.Of(session, SampleRate.Hz48000, 0));
        Assert.Equal(session, MapChange.Apply(session, MusicMap.Of(session), new Anchors()));
    }
}
