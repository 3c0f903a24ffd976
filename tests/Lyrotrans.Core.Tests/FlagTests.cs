using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class FlagTests
{
    private static IReadOnlyList<string> Codes(Session session, MediaSound? sound = null) =>
        new FlagFinder(session, sound is null ? new Dictionary<string, MediaSound>() : new() { ["m"] = sound }).Find().Select(f => f.Code).ToList();

    [Fact]
    public void A_clean_session_has_no_flags() => Assert.Empty(Codes(Of(Track("a", Clip("1", 0, 480_000)))));

    [Fact]
    public void Hidden_muted_and_inactive_tracks_are_flagged()
    {
        foreach (var state in new[] { TrackState.Hidden, TrackState.Muted, TrackState.Inactive })
        {
            Assert.Contains(state.ToString().ToLowerInvariant() + "-track", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { State = state })));
        }
    }

    [Fact]
    public void Each_kind_of_trouble_has_its_flag()
    {
        Assert.Contains("missing-media", Codes(Of(Track("a", Clip("1", 0, 10))) with { Media = [Media() with { Place = MediaPlace.Missing }] }));
        Assert.Contains("other-rate", Codes(Of(Track("a", Clip("1", 0, 10))) with { Media = [Media() with { Rate = SampleRate.Hz44100 }] }));
        Assert.Contains("past-end", Codes(Of(Track("a", Clip("1", 0, 480_001)))));
        Assert.Contains("short-handle", Codes(Of(Track("a", Clip("1", 0, 400_000, 100)))));
        Assert.DoesNotContain("short-handle", Codes(Of(Track("a", Clip("1", 0, 300_000, 48_000)))));
        Assert.Contains("same-name", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { Id = "x" }, Track("A"))));
        Assert.Contains("refused-name", Codes(Of(Track("a?", Clip("1", 0, 480_000)))));
        Assert.Contains("before-bar-1", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Bar1Sample = 10 }));
        Assert.Contains("empty-end", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Markers = [new Marker("m", "end", 9_000_000)] }));
        Assert.Contains("clipped", Codes(Of(Track("a", Clip("1", 0, 480_000))), new MediaSound(0, 480_000, 1, false, 2)));
        var stereo = Of(Track("a", Clip("1", 0, 480_000) with { ChannelMap = [0, 1] }) with { Channels = 2 }) with { Media = [Media(channels: 2)] };
        Assert.Contains("equal-channels", Codes(stereo, new MediaSound(0, 480_000, 0.5, true, 0)));
        var empty = new Track { Id = "n", Name = "n", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "p" }] };
        Assert.Contains("empty-part", Codes(Of(empty)));
    }
}
