using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
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
        Assert.Empty(Failures(WithClip(c => c with { GainDb = -2.5005 })));
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
