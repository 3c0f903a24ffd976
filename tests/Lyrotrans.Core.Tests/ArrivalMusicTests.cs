using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Tempo, meters, notes and rides of another program's file, whose unit of ticks, tracks, channels and bar 1 are others.</summary>
public sealed class ArrivalMusicTests
{
    private static readonly Session s_none = new() { Name = "none" };

    private static Session Music(int ticks, Rational later, bool oneTrack, Func<int, Note, Note?>? change = null)
    {
        var random = new Random(7);
        var parts = new List<(string Name, NotePart Part)>();
        for (var t = 0; t < 3; t++)
        {
            var notes = Enumerable.Range(0, 60).Select(i => new Note((i * ticks / 2) + (random.Next(0, 4) * ticks / 12), ticks / 4, t + 1, 48 + random.Next(0, 24), 40 + random.Next(0, 80))).Select((n, i) => t == 1 && change is not null ? change(i, n) : n).OfType<Note>().OrderBy(n => n.Tick).ToList();
            parts.Add(($"Part {t}", new NotePart { Id = $"p{t}", Name = $"part {t}", StartQuarter = later + t, LengthQuarters = 60, TicksPerQuarter = ticks, Notes = [.. notes] }));
        }

        Track Made(string name, IEnumerable<NotePart> all) => new() { Id = name, Name = name, Kind = TrackKind.Notes, Parts = [.. all] };
        return new Session
        {
            Name = "music",
            Tracks = oneTrack ? [Made("all", parts.Select(p => p.Part))] : [.. parts.Select(p => Made(p.Name, [p.Part]))],
            Tempo = new TempoMap([.. new[] { (0, 92), (16, 100), (32, 116) }.Select(p => new TempoPoint(later + p.Item1, p.Item2))]),
            Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(5 + (long)(later / 4).Floor(), 7, 8), new MeterChange(11 + (long)(later / 4).Floor(), 4, 4)]),
        };
    }

    private static ArrivalReport Compared(Session sent, Session found) => ArrivalComparison.Compare(SentSession.Whole(new ArrivalSide(s_none, sent, true)), new ArrivalSide(null, found, false), SoundOrigins.None);

    [Fact]
    public void The_same_music_in_other_ticks_on_one_track_and_some_bars_later_differs_in_nothing_else()
    {
        var sent = Music(960, 0, false);
        Assert.True(Compared(sent, sent).IsSame);
        Assert.True(Compared(sent, Music(480, 0, false)).IsSame);
        var report = Compared(sent, Music(480, 8, true));
        Assert.Equal(["Notes lie 8 quarters later, counted from bar 1.", "All notes came on one track."], report.Causes);
        Assert.Empty(report.Rows);
    }

    [Fact]
    public void A_note_that_is_gone_one_that_moved_and_one_that_is_softer_are_said_of_their_track()
    {
        var report = Compared(Music(960, 0, false), Music(960, 0, true, (i, n) => i == 3 ? null : i == 10 ? n with { Tick = n.Tick + 96 } : i == 20 ? n with { Velocity = n.Velocity - 9 } : i == 30 ? n with { Length = n.Length * 2 } : n));
        Assert.Equal(
            ["notes: 1 missing", "starts of notes: 1 moved, by up to 0.1 quarters", "lengths of notes: 1 others, by up to 0.25 quarters", "velocities: 1 others"],
            report.Rows.Select(r => $"{r.What}: {r.Difference}"));
        Assert.All(report.Rows, r => Assert.Equal("Part 1", r.Subject));
    }

    [Fact]
    public void Notes_on_the_ticks_of_a_coarser_unit_are_one_cause()
    {
        var sent = Music(960, 0, false, (_, n) => n with { Tick = n.Tick + 7 });
        var round = sent with { Tracks = [.. sent.Tracks.Select(t => t with { Parts = [.. t.Parts.Select(p => p with { TicksPerQuarter = 96, Notes = [.. p.Notes.Select(n => n with { Tick = (n.Tick + 5) / 10, Length = n.Length / 10 })] })] })] };
        var report = Compared(sent, round);
        Assert.StartsWith("Notes are rounded to ticks of which 96 make a quarter", Assert.Single(report.Causes), StringComparison.Ordinal);
        Assert.Empty(report.Rows);
    }

    [Fact]
    public void No_notes_are_one_cause_and_what_was_added_is_said()
    {
        var (sent, bare) = (Music(960, 0, false), Music(960, 0, false) with { Tracks = [] });
        Assert.Equal("No notes came: 180 notes were sent.", Assert.Single(Compared(sent, bare).Causes));
        var doubled = sent with { Tracks = [.. sent.Tracks, sent.Tracks[0] with { Id = "again" }] };
        Assert.Equal("added", Assert.Single(Compared(sent, doubled).Rows).Difference);
    }

    [Fact]
    public void A_tempo_map_that_did_not_come_or_is_another_at_one_place_is_said()
    {
        var sent = Music(960, 0, false);
        Assert.Equal("The tempo map did not come: it is 120 quarters a minute all through there.", Assert.Single(Compared(sent, sent with { Tempo = TempoMap.Constant(120) }).Causes));
        var row = Assert.Single(Compared(sent, sent with { Tempo = new TempoMap([new TempoPoint(0, 92), new TempoPoint(16, 101), new TempoPoint(32, 116)]) }).Rows);

        // 16 quarters at 100 last 9.6 s, and at 101 about 9.50495 s: 4 562 samples less.
        Assert.Equal(("bar 5.1.0", "tempo", "100 quarters a minute", "101 quarters a minute"), (row.Subject, row.What, row.Sent, row.Found));
        Assert.StartsWith("−4", row.Difference, StringComparison.Ordinal);
        Assert.EndsWith("562 samples by bar 9.5.0", row.Difference, StringComparison.Ordinal);
    }

    [Fact]
    public void One_tempo_without_any_note_is_compared_too()
    {
        var (sent, found) = (s_none with { Tempo = TempoMap.Constant(120) }, s_none with { Tempo = TempoMap.Constant(125) });
        Assert.Equal(("tempo", "120 quarters a minute", "125 quarters a minute"), Assert.Single(Compared(sent, found).Rows) is var row ? (row.What, row.Sent, row.Found) : default);
        Assert.True(Compared(sent, sent).IsSame);
    }

    [Fact]
    public void Where_nothing_could_be_compared_nothing_is_said_to_have_arrived()
    {
        var report = ArrivalComparison.Compare(SentSession.Whole(new ArrivalSide(s_none, null, true)), new ArrivalSide(null, s_none, false), SoundOrigins.None);
        Assert.False(report.IsSame);
        Assert.Equal("Nothing of it could be compared with what was sent.", report.Verdict);
        Assert.Contains("tempo, meters and notes: no MIDI was sent", report.NotCompared);
    }

    [Fact]
    public void Whole_microseconds_a_quarter_are_no_other_tempo()
    {
        var sent = Music(960, 0, false);
        var smf = sent with { Tempo = new TempoMap([.. sent.Tempo.Points.Select(p => new TempoPoint(p.Quarter, new Rational(60_000_000, (60_000_000 / p.QuartersPerMinute).RoundToEven())))]) };
        Assert.True(Compared(sent, smf).IsSame);
    }

    [Fact]
    public void A_meter_that_is_another_is_said_at_its_bar()
    {
        var sent = Music(960, 0, false);
        Assert.Equal(["bar 5: 7/8, 4/4, another", "bar 11: 4/4, 4/4, not at the beginning of a bar there"], Compared(sent, sent with { Meters = MeterMap.FourFour }).Rows.Select(r => $"{r.Subject}: {r.Sent}, {r.Found}, {r.Difference}"));
        var six = sent with { Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(5, 6, 8), new MeterChange(12, 4, 4)]) };
        Assert.Contains(Compared(sent, six).Rows, r => r is { Subject: "bar 5", Sent: "7/8", Found: "6/8" });
    }

    private static Session Ridden(Automation? ride, double gainAt = 0) => new()
    {
        Name = "ridden",
        Media = [new Media { Id = "m", FileName = "m.wav", Length = 480_000, Identifiers = ["urn:m"] }, new Media { Id = "n", FileName = "n.wav", Length = 480_000, Identifiers = ["urn:n"] }],
        Tracks =
        [
            new Track { Id = "t", Name = "Cello", FaderAutomation = ride, Lanes = [new Lane("main", [new Clip { Id = "c", Name = "one", Media = "m", Length = 240_000, GainCurve = new Automation([new AutomationPoint(0, gainAt), new AutomationPoint(1000, -3)]) }])] },
            new Track { Id = "u", Name = "Horn", Lanes = [new Lane("main", [new Clip { Id = "d", Name = "two", Media = "n", Start = 100, Length = 100_000 }])] },
        ],
    };

    private static ArrivalReport Rides(Automation? ride, double gainAt = 0) =>
        ArrivalComparison.Compare(SentSession.Whole(new ArrivalSide(Ridden(new Automation([new AutomationPoint(0, 0), new AutomationPoint(48_000, -12)])), null, true)), new ArrivalSide(Ridden(ride, gainAt), null, true), SoundOrigins.None);

    [Fact]
    public void Rides_are_compared_by_their_values_wherever_their_points_lie()
    {
        Assert.True(Rides(new Automation([new AutomationPoint(0, 0), new AutomationPoint(12_000, -3), new AutomationPoint(36_000, -9), new AutomationPoint(48_000, -12)])).IsSame);
        var row = Assert.Single(Rides(new Automation([new AutomationPoint(0, 0), new AutomationPoint(24_000, -12)])).Rows);
        Assert.Equal(("Cello", "volume ride"), (row.Subject, row.What));
        Assert.Equal("No volume ride came: 1 track had one.", Assert.Single(Rides(null).Causes));
        Assert.Equal("gain curve", Assert.Single(Rides(new Automation([new AutomationPoint(0, 0), new AutomationPoint(48_000, -12)]), 2).Rows).What);
    }
}
