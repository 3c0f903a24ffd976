using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class FlagTests
{
    private static IReadOnlyList<string> Codes(Session session, MediaSound? sound = null) =>
        new FlagFinder(session, sound is null ? new Dictionary<string, MediaSound>() : new() { ["m"] = sound }).Flags().Select(f => f.Code).ToList();

    [Fact]
    public void A_clean_session_has_no_flags() => Assert.Empty(Codes(Of(Track("a", Clip("1", 0, 480_000)))));

    [Fact]
    public void Hidden_muted_and_switched_off_tracks_are_flagged()
    {
        foreach (var state in new[] { TrackState.Hidden, TrackState.Muted, TrackState.SwitchedOff })
        {
            Assert.Contains(state.Words().Replace(' ', '-') + "-track", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { State = state })));
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
        Assert.Contains("inverted-track", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { Inverted = true })));
        Assert.Contains("same-name", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { Id = "x" }, Track("A"))));
        Assert.Contains("refused-name", Codes(Of(Track("a?", Clip("1", 0, 480_000)))));
        Assert.Contains("before-bar-1", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Bar1Sample = 10 }));
        Assert.Contains("empty-end", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Markers = [new Marker("m", "end", 9_000_000)] }));
        Assert.Contains("clipped", Codes(Of(Track("a", Clip("1", 0, 480_000))), new MediaSound(0, 480_000, 1, null, 2)));
        var stereo = Of(Track("a", Clip("1", 0, 480_000) with { ChannelMap = [0, 1] }) with { Channels = 2 }) with { Media = [Media(channels: 2)] };
        Assert.Contains("equal-channels", Codes(stereo, new MediaSound(0, 480_000, 0.5, double.NegativeInfinity, 0)));
        var empty = new Track { Id = "n", Name = "n", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "p" }] };
        Assert.Contains("empty-part", Codes(Of(empty)));
    }

    private static NotePart Part(string id, int start, int length, params Note[] notes) => new()
    {
        Id = id,
        Name = id,
        StartQuarter = start,
        LengthQuarters = length,
        TicksPerQuarter = 480,
        Notes = notes.ToValueArray(),
    };

    private static Session Notes(params NotePart[] parts) => Of(new Track { Id = "n", Name = "Harp", Kind = TrackKind.Notes, Channels = 0, Parts = parts.ToValueArray() });

    [Fact]
    public void Notes_that_would_not_arrive_as_they_are_have_their_flags()
    {
        Assert.Empty(Codes(Notes(Part("a", 0, 8, new Note(0, 480, 1, 60, 90), new Note(480, 480, 1, 60, 90)))));
        Assert.Contains("no-notes", Codes(Notes(Part("a", 0, 4))));
        Assert.Contains("notes-outside", Codes(Notes(Part("a", 0, 1, new Note(480, 10, 1, 60, 90)))));
        Assert.Contains("hanging-note", Codes(Notes(Part("a", 0, 100, new Note(0, 480 * 32, 1, 60, 90)))));
        Assert.Contains("nested-notes", Codes(Notes(Part("a", 0, 8, new Note(0, 960, 1, 60, 90), new Note(480, 100, 1, 60, 90)))));
        Assert.DoesNotContain("nested-notes", Codes(Notes(Part("a", 0, 8, new Note(0, 960, 1, 60, 90), new Note(480, 100, 2, 60, 90)))));
        var one = new Note(0, 10, 1, 60, 90);
        Assert.Contains("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 4, 8, one))));
        Assert.DoesNotContain("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 8, 8, one))));
        Assert.DoesNotContain("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 4, 8, one) with { Muted = true })));
        var asks = new FlagFinder(Notes(Part("a", 0, 8, one) with { Controls = [new NoteControl(0, NoteControlKind.Program, 2, 0, 46)] }), new Dictionary<string, MediaSound>()).Flags();
        Assert.Contains("program 47 on channel 2", Assert.Single(asks).Detail);
    }

    [Fact]
    public void A_tempo_that_the_sound_disagrees_with_is_told_with_its_confidence()
    {
        var session = Of(Track("a", Clip("1", 0, 480_000)));
        Assert.Empty(new FlagFinder(session, new Dictionary<string, MediaSound>(), new TempoEstimate(92, 0.1, 0.01)).Flags());
        Assert.Empty(new FlagFinder(session, new Dictionary<string, MediaSound>(), new TempoEstimate(120, 0.5, 0.49)).Flags());
        var flag = Assert.Single(new FlagFinder(session, new Dictionary<string, MediaSound>(), new TempoEstimate(92.25, 0.5, 0.1)).Flags());
        Assert.Equal("other-tempo", flag.Code);
        Assert.Contains("says 120, the sound about 92.25", flag.Title);
        Assert.Contains("confidence 50 %", flag.Detail);
    }
}
