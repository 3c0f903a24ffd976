using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class RateFinderTests
{
    private static readonly Session s_bare = Of();

    private static SoundRate Sound(string id, int header, long frames, params RateWord[] words) => new(id, $"{id}.wav", SampleRate.FromHz(header), frames, words.ToValueArray(), id);

    private static IReadOnlyList<RateDoubt> Find(Session session, params SoundRate[] sounds) => new RateFinder(sounds, session).Doubts();

    [Fact]
    public void Files_that_agree_are_not_doubted() => Assert.Empty(Find(s_bare, Sound("a", 48_000, 480_000), Sound("b", 48_000, 480_000), Sound("c", 44_100, 441_000), Sound("d", 96_000, 77_000)));

    [Fact]
    public void What_another_part_of_the_file_says_is_heard()
    {
        var doubt = Assert.Single(Find(s_bare, Sound("a", 44_100, 480_000, new RateWord("its coding history", SampleRate.Hz48000), new RateWord("its iXML", SampleRate.Hz44100))));
        Assert.Equal((SampleRate.Hz48000, "its coding history says 48 000 Hz"), (doubt.Likely, doubt.Reasons.Single().Replace('\u202F', ' ').Replace('\u00A0', ' ').Replace('\u2009', ' ')));
        Assert.Equal(-8.125, doubt.FastPercent, 1e-9);
    }

    [Fact]
    public void As_many_samples_as_its_neighbours_under_another_rate()
    {
        var doubts = Find(s_bare, Sound("a", 48_000, 480_000), Sound("b", 48_000, 480_000), Sound("c", 44_100, 480_000), Sound("d", 44_100, 999_999));
        var doubt = Assert.Single(doubts);
        Assert.Equal(("c", SampleRate.Hz48000), (doubt.Sound.Id, doubt.Likely));

        // One against one: the session decides, and where it does not, neither is doubted.
        Assert.Equal("c", Assert.Single(Find(s_bare, Sound("a", 48_000, 480_000), Sound("c", 44_100, 480_000))).Sound.Id);
        Assert.Empty(Find(s_bare, Sound("a", 96_000, 480_000), Sound("c", 44_100, 480_000)));
    }

    [Fact]
    public void As_long_as_its_neighbours_if_its_rate_were_another() => Gen.Select(Gen.OneOf(Gen.Const(44_100), Gen.Const(88_200), Gen.Const(96_000), Gen.Const(32_000)), Gen.Long[96_000, 30_000_000]).Sample((real, frames) =>
    {
        var (neighbour, session) = (SampleRate.FromHz(real).Convert(frames, SampleRate.Hz48000), s_bare);
        var doubts = Find(session, Sound("a", 48_000, neighbour), Sound("b", 48_000, neighbour), Sound("c", 48_000, frames));
        return doubts.Count == 1 && doubts[0].Sound.Id == "c" && doubts[0].Likely == SampleRate.FromHz(real);
    });

    [Fact]
    public void A_pull_of_a_thousandth_is_found()
    {
        var pulled = RateFinder.Usual.Single(r => RateFinder.Words(r).EndsWith("pulled down", StringComparison.Ordinal) && r.HeaderHz == 47_952);
        var doubt = Assert.Single(Find(s_bare, Sound("a", 48_000, 48_048_000), Sound("b", 48_000, 48_048_000), Sound("c", 48_000, 48_000_000)));
        Assert.Equal(("c", pulled), (doubt.Sound.Id, doubt.Likely));
    }

    [Fact]
    public void Lengths_that_only_two_of_many_share_say_nothing()
    {
        SoundRate[] others = [.. Enumerable.Range(0, 8).Select(i => Sound($"o{i}", 48_000, 700_001 + (i * 7919)))];
        Assert.Empty(Find(s_bare, [.. others, Sound("a", 48_000, 480_000), Sound("b", 48_000, 480_000), Sound("c", 48_000, 441_000)]));
    }

    [Fact]
    public void A_clip_that_shows_the_whole_file_says_how_fast_it_was_played()
    {
        // 441 000 samples that are shown as 480 000 of 48 kHz are of 44.1 kHz, whatever the header says.
        var session = Of(Track("Cello", Clip("1", 1000, 480_000) with { Media = "c" }));
        var doubt = Assert.Single(Find(session, Sound("c", 48_000, 441_000)));
        Assert.Equal(SampleRate.Hz44100, doubt.Likely);
        Assert.Contains("its clip on Cello", doubt.Reasons.Single());
        Assert.Empty(Find(session, Sound("c", 48_000, 480_000)));
        Assert.Empty(Find(Of(Track("Cello", Clip("1", 0, 470_000, 500) with { Media = "c" })), Sound("c", 48_000, 441_000)));
    }

    [Fact]
    public void A_document_that_counts_as_many_samples_at_another_rate_is_heard()
    {
        var file = Sound("c", 44_100, 480_000);
        Assert.Equal(SampleRate.Hz48000, Assert.Single(Find(s_bare, file with { Described = Media() })).Likely);
        Assert.Empty(Find(s_bare, file with { Described = Media(length: 522_449) }));
    }

    [Fact]
    public void Short_files_are_as_long_as_others_by_chance() => Assert.Empty(Find(s_bare, Sound("a", 48_000, 30_000), Sound("b", 48_000, 30_000), Sound("c", 44_100, 30_000)));

    [Fact]
    public void A_doubt_has_its_flag_in_the_place_of_the_other_rate()
    {
        var session = Of(Track("a", Clip("1", 0, 480_000))) with { Media = [Media() with { Rate = SampleRate.Hz44100 }] };
        var doubt = new RateDoubt(Sound("file", 44_100, 480_000) with { MediaId = "m" }, SampleRate.Hz48000, ["its coding history says so"]);
        var flags = new FlagFinder(new FlagFacts(session, Preparing.Preparation.Default(session, TestFormats.Any)) { Rates = [doubt] }).Flags();
        Assert.Contains("coding history", flags.Single(f => f.Code == "wrong-rate").Detail);
        Assert.DoesNotContain(flags, f => f.Code == "other-rate");
    }
}
