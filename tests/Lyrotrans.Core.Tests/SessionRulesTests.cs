using Lyrotrans.Core.Sessions;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class SessionRulesTests
{
    [Fact]
    public void A_crossfade_is_two_faded_neighbours() =>
        Assert.Empty(SessionRules.Check(Of(Track("a", Clip("1", 0, 1000, fadeOut: 100), Clip("2", 900, 1000, fadeIn: 100)))));

    [Fact]
    public void An_overlap_without_fades_is_a_fault()
    {
        var fault = Assert.Single(SessionRules.Check(Of(Track("a", Clip("1", 0, 1000), Clip("2", 900, 1000)))));
        Assert.Equal("$.tracks[0].lanes[0].clips[1].start", fault.Path);
        Assert.Contains("100 samples", fault.Message);
    }

    [Fact]
    public void A_muted_clip_may_lie_under_others() => Assert.Empty(SessionRules.Check(Of(Track(
        "a", Clip("1", 0, 1000), Clip("2", 100, 5000) with { Muted = true }, Clip("3", 1000, 500)))));

    [Fact]
    public void References_to_nothing_and_double_ids_are_faults()
    {
        var session = Of(
            Track("a", Clip("1", 0, 10) with { Media = "none" }) with { Output = "nowhere", Sends = [new Send("gone", 0)] }, Track("a"));
        var paths = SessionRules.Check(session).Select(f => f.Path).ToList();
        Assert.Contains("$.tracks[0].output", paths);
        Assert.Contains("$.tracks[0].sends[0].target", paths);
        Assert.Contains("$.tracks[0].lanes[0].clips[0].media", paths);
        Assert.Contains("$.tracks[1].id", paths);
    }

    [Fact]
    public void A_loop_of_outputs_is_a_fault()
    {
        Track Bus(string id, string to) => new() { Id = id, Name = id, Kind = TrackKind.Bus, Output = to };
        var faults = SessionRules.Check(Of(Bus("a", "b"), Bus("b", "c"), Bus("c", "a"), Track("d") with { Output = "a" })).ToList();
        Assert.Equal(3, faults.Count);
        Assert.All(faults, f => Assert.Contains("comes back to itself", f.Message));
    }

    [Theory]
    [InlineData(TrackKind.Print, "a", "")]
    [InlineData(TrackKind.Print, "hall", "")]
    [InlineData(TrackKind.Print, "a bus", "of")]
    [InlineData(TrackKind.Print, "", "of")]
    [InlineData(TrackKind.Print, "nobody", "of")]
    [InlineData(TrackKind.Print, "guide", "of")]
    [InlineData(TrackKind.Stem, "a bus", "")]
    [InlineData(TrackKind.Stem, "hall", "of")]
    [InlineData(TrackKind.Stem, "", "of")]
    [InlineData(TrackKind.Click, "a", "of")]
    [InlineData(TrackKind.Audio, "a", "of")]
    [InlineData(TrackKind.GuideMix, "", "kind")]
    public void Sound_that_stands_for_something_says_what(TrackKind kind, string of, string fault)
    {
        var session = Of(
            Track("a"), new Track { Id = "bus", Name = "bus", Kind = TrackKind.Bus }, new Track { Id = "hall", Name = "hall", Kind = TrackKind.Return }, new Track { Id = "guide", Name = "guide", Kind = TrackKind.GuideMix },
            new Track { Id = "x", Name = "x", Kind = kind, Of = [.. of.Split(' ', StringSplitOptions.RemoveEmptyEntries)] });
        Assert.Equal(fault.Length == 0 ? [] : [$"$.tracks[4].{fault}"], SessionRules.Check(session).Select(f => f.Path));
    }

    [Fact]
    public void What_stands_for_something_is_fed_by_nothing_feeds_nothing_and_is_there_once()
    {
        Track Role(string id, TrackKind kind, params string[] of) => new() { Id = id, Name = id, Kind = kind, Of = [.. of] };
        var session = Of(
            Track("a") with { Output = "p" }, Role("p", TrackKind.Print, "a"), Role("q", TrackKind.Print, "a"), Role("s", TrackKind.Stem, "a"), Role("t", TrackKind.Stem, "a"),
            Role("click", TrackKind.Click) with { Output = "a" }, Role("other", TrackKind.Click) with { Inserts = [new Insert("limiter", [])] });
        Assert.Equal(["$.tracks[0]", "$.tracks[2].of", "$.tracks[4].of", "$.tracks[5]", "$.tracks[6]"], SessionRules.Check(session).Select(f => f.Path));
    }

    [Theory]
    [InlineData(0, 0, 0, 0, "length")]
    [InlineData(100, -1, 0, 0, "sourceOffset")]
    [InlineData(100, 0, 60, 60, "fadeIn")]
    public void Impossible_clips_are_faults(long length, long offset, long fadeIn, long fadeOut, string what) =>
        Assert.Contains(SessionRules.Check(Of(Track("a", Clip("1", 0, length, offset, fadeIn, fadeOut)))), f => f.Path.EndsWith(what, StringComparison.Ordinal));
}
