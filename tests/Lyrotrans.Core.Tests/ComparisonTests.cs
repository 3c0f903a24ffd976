using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class ComparisonTests
{
    private static readonly Session s_meant = Of(
        Track("a", Clip("1", 100, 1000, 5, 10, 10) with { GainDb = -2.5 }),
        new Track
        {
            Id = "n",
            Name = "n",
            Kind = TrackKind.Notes,
            Channels = 0,
            Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 4, Notes = [new Note(0, 10, 1, 60, 64)] }],
        }) with
    { Markers = [new Marker("k", "here", 50)] };

    private static IEnumerable<ProofRow> Failures(Session found) => SessionComparison.Compare(s_meant, found).Where(r => !r.Passed);

    private static Session WithClip(Func<Clip, Clip> change) =>
        s_meant with { Tracks = [Track("a", change(s_meant.Tracks[0].Lanes[0].Clips[0])), s_meant.Tracks[1]] };

    /// <summary>One of everything that the model can say, and two of what can be changed over.</summary>
    private static readonly Session s_rich = new()
    {
        Name = "Orrery Suite",
        Start = new Timecode(90_000, FrameRate.Fps25),
        Tempo = new TempoMap([new TempoPoint(0, 90, Ramp: true), new TempoPoint(8, 120)]),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(5, 7, 8)]),
        Keys = [new KeyChange(0, 2, false), new KeyChange(16, -3, true)],
        Markers = [new Marker("k", "here", 50), new Marker("l", "there", 900, 10)],
        Media =
        [
            new Media { Id = "m", FileName = "horn.wav", Channels = 2, Length = 5000, TimeReference = 48, Sha256 = "00", Identifiers = ["u", "v"] },
            new Media { Id = "o", FileName = "bell.wav", Length = 700 },
        ],
        Tracks =
        [
            new Track
            {
                Id = "a",
                Name = "Horn",
                Channels = 2,
                FaderAutomation = new Automation([new AutomationPoint(0, -3), new AutomationPoint(48, 0)]),
                PanAutomation = new Automation([new AutomationPoint(0, -1), new AutomationPoint(48, 1)], Interpolation.Step),
                Output = "b",
                Sends = [new Send("b", -6, LevelAutomation: new Automation([new AutomationPoint(5, 1)])), new Send("c", -7)],
                Inserts = [new Insert("gain", [new Parameter("gain dB", 1), new Parameter("more", 2)]), new Insert("tilt")],
                Lanes =
                [
                    new Lane("comp",
                    [
                        new Clip
                        {
                            Id = "1", Name = "horn", Media = "m", ChannelMap = [0, 1], Start = 100, Length = 1000, SourceOffset = 5, GainDb = -2.5,
                            GainCurve = new Automation([new AutomationPoint(0, 0), new AutomationPoint(9, 1)]), FadeIn = new Fade(10, FadeShape.Sampled, [0, 0.25, 1]), FadeOut = new Fade(11), Source = "x",
                        },
                        new Clip { Id = "2", Name = "horn", Media = "o", Start = 2000, Length = 100 },
                    ]),
                    new Lane("take 2", []),
                ],
            },
            new Track
            {
                Id = "n",
                Name = "Harp",
                Kind = TrackKind.Notes,
                Parts =
                [
                    new NotePart
                    {
                        Id = "p", Name = "harp", LengthQuarters = 4, Notes = [new Note(0, 10, 1, 60, 64), new Note(5, 10, 1, 62, 64)],
                        Controls = [new NoteControl(0, NoteControlKind.Controller, 1, 7, 100), new NoteControl(3, NoteControlKind.Controller, 1, 0, 0, [1, 2])],
                    },
                    new NotePart { Id = "q", Name = "harp", StartQuarter = 8, LengthQuarters = 4 },
                ],
            },
        ],
        Picture = new PictureReference("show.mov", new Timecode(0, FrameRate.Fps25), 100, "11"),
        Comments = [new Comment("by", "us"), new Comment("for", "them")],
        Provenance = [new Provenance("a.aaf", "clips"), new Provenance("b.mid", "notes")],
    };

    [Fact]
    public void Whatever_is_changed_in_the_model_is_named()
    {
        Assert.DoesNotContain(SessionComparison.Compare(s_rich, s_rich), r => !r.Passed);
        var changes = ModelChanges.Of(s_rich).ToList();
        var unseen = changes.Where(c => SessionComparison.Compare(s_rich, c.Changed).All(r => r.Passed)).Select(c => $"{c.Type.Name}.{c.Field} {c.How}").ToList();
        Assert.True(unseen.Count == 0, string.Join('\n', unseen));

        // No field that the model declares was left out of this.
        Assert.Empty(ModelChanges.Fields(typeof(Session)).Except(changes.Select(c => (c.Type, c.Field))));
        Assert.True(changes.Count > 200, $"{changes.Count}");
    }

    [Fact]
    public void The_same_session_passes() => Assert.Empty(Failures(s_meant));

    [Fact]
    public void One_sample_is_seen_and_stated()
    {
        var row = Assert.Single(Failures(WithClip(c => c with { Start = 101 })));
        Assert.Equal(("start", "1"), (row.What, row.Difference));
    }

    [Fact]
    public void Every_field_of_a_clip_is_compared()
    {
        Assert.Equal("length", Assert.Single(Failures(WithClip(c => c with { Length = 999 }))).What);
        Assert.Equal("source from", Assert.Single(Failures(WithClip(c => c with { SourceOffset = 6 }))).What);
        Assert.Equal("fade in", Assert.Single(Failures(WithClip(c => c with { FadeIn = new Fade(10, FadeShape.S) }))).What);
        Assert.Equal("fade out", Assert.Single(Failures(WithClip(c => c with { FadeOut = new Fade(11) }))).What);
        Assert.Equal("gain", Assert.Single(Failures(WithClip(c => c with { GainDb = -2.502 }))).What);
        Assert.Equal("muted", Assert.Single(Failures(WithClip(c => c with { Muted = true }))).What);
        Assert.Equal("gain", Assert.Single(Failures(WithClip(c => c with { GainDb = Math.BitIncrement(c.GainDb) }))).What);
    }

    [Fact]
    public void A_form_that_rounds_or_lacks_a_field_is_held_to_what_it_holds()
    {
        var held = new HeldValues(0.001, 0.000_001, new Dictionary<(Type, string), string> { [(typeof(Sessions.Clip), nameof(Sessions.Clip.Muted))] = "it has no place for it" });
        IEnumerable<ProofRow> Failures(Session found) => SessionComparison.Compare(s_meant, found, held).Where(r => !r.Passed);
        Assert.Empty(Failures(WithClip(c => c with { GainDb = -2.5005, Muted = true })));
        Assert.Equal("gain", Assert.Single(Failures(WithClip(c => c with { GainDb = -2.502 }))).What);
        Assert.Equal("name", Assert.Single(Failures(WithClip(c => c with { Name = "other" }))).What);
    }

    [Fact]
    public void Missing_notes_markers_tracks_and_clips_are_seen()
    {
        var part = s_meant.Tracks[1].Parts[0];
        Assert.NotEmpty(Failures(s_meant with { Tracks = [s_meant.Tracks[0], s_meant.Tracks[1] with { Parts = [part with { Notes = [] }] }] }));
        Assert.NotEmpty(Failures(s_meant with { Tracks = [s_meant.Tracks[0], s_meant.Tracks[1] with { Parts = [part with { Notes = [new Note(1, 10, 1, 60, 64)] }] }] }));
        Assert.NotEmpty(Failures(s_meant with { Markers = [] }));
        Assert.NotEmpty(Failures(s_meant with { Tracks = [s_meant.Tracks[0]] }));
        Assert.NotEmpty(Failures(s_meant with { Tracks = [Track("a"), s_meant.Tracks[1]] }));
        Assert.NotEmpty(Failures(s_meant with { Bar1Sample = 1 }));
    }

    [Fact]
    public void The_verdict_counts_what_went_astray()
    {
        var bad = new ProofRow("c", "start", "1", "2", "1", false);
        var report = ProofReport.Make("p", DateTimeOffset.UnixEpoch, [new ProofRow("c", "x", "1", "1", "0", true), bad], [new ClipDot("c", 1), new ClipDot("d", 0)], []);
        Assert.Equal("1 of 2 clips arrive on their sample. 1 does not.", report.Verdict);
        Assert.Same(bad, report.Rows[0]);
        Assert.False(report.Passed);
    }
}
