using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;

namespace Lyrotrans.Web.Tests;

public class DeskTests
{
    private static readonly Guid s_room = Guid.NewGuid();

    [Fact]
    public void What_was_made_for_one_room_is_not_given_to_another()
    {
        var cache = new DocumentCache(TimeProvider.System);
        Assert.Equal("one", cache.Get(s_room, "a", () => "one"));
        Assert.Equal("other", cache.Get(Guid.NewGuid(), "a", () => "other"));
    }

    [Fact]
    public void A_document_is_parsed_once_while_it_is_kept()
    {
        var cache = new DocumentCache(TimeProvider.System);
        var parsed = 0;
        string Parse() => $"document {++parsed}";
        Assert.Equal("document 1", cache.Get(s_room, "a", Parse));
        Assert.Equal("document 1", cache.Get(s_room, "a", Parse));
        Assert.Equal("document 2", cache.Get(s_room, "b", Parse));
    }

    [Fact]
    public void The_oldest_documents_leave_and_kinds_do_not_mix()
    {
        var cache = new DocumentCache(TimeProvider.System);
        for (var i = 0; i < 300; i++)
        {
            cache.Get(s_room, $"{i}", () => $"first {i}");
        }

        Assert.Equal("again", cache.Get(s_room, "0", () => "again"));
        Assert.Equal("first 299", cache.Get(s_room, "299", () => "again"));
        Assert.Equal(["x"], cache.Get(s_room, "299", () => new List<string> { "x" }));
    }

    [Fact]
    public void What_many_ask_for_at_once_is_made_once_and_an_error_keeps_nothing()
    {
        var cache = new DocumentCache(TimeProvider.System);
        Parallel.For(0, 50, _ => Assert.Equal("made", cache.Get(s_room, "slow", () =>
        {
            Thread.Sleep(50);
            return "made";
        })));
        Assert.Equal(1, cache.Made<string>(s_room));
        Assert.Throws<InvalidOperationException>(() => cache.Get<string>(s_room, "bad", () => throw new InvalidOperationException()));
        Assert.Equal("good", cache.Get(s_room, "bad", () => "good"));
    }

    [Fact]
    public void What_nobody_asks_for_any_more_is_let_go_of_and_made_again_for_who_does()
    {
        var clock = new HandClock();
        var cache = new DocumentCache(clock);
        cache.Get(s_room, "old", () => "first");
        cache.Get(s_room, "used", () => "first");
        clock.Now += TimeSpan.FromMinutes(4);
        cache.Get(s_room, "used", () => "again");
        clock.Now += TimeSpan.FromMinutes(2);
        Assert.Equal(1, cache.LetGo(CacheClock.Unasked));
        Assert.Equal(("again", "first"), (cache.Get(s_room, "old", () => "again"), cache.Get(s_room, "used", () => "again")));
    }

    private sealed class HandClock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 11, 29, 12, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }

    [Fact]
    public void The_facts_strip_says_what_the_session_is()
    {
        var session = new Session
        {
            Name = "t",
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps2997Drop),
            Tempo = new TempoMap([new TempoPoint(0, 92), new TempoPoint(4, 116), new TempoPoint(8, 66)]),
            Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(3, 7, 8), new MeterChange(5, 4, 4)]),
        };
        var facts = DeskFacts.Of(session).ToDictionary(f => f.Name, f => f.Value);
        Assert.Equal("48\u202f000 Hz", facts["rate"]);
        Assert.Equal("29.97 drop", facts["frames"]);
        Assert.Equal("10:00:00;00", facts["starts"]);
        Assert.Equal("66–116", facts["tempo"]);
        Assert.Equal("4/4 7/8", facts["meter"]);
        Assert.Equal("92.5", DeskFacts.Of(session with { Tempo = TempoMap.Constant(new Rational(185, 2)) }).Single(f => f.Name == "tempo").Value);
    }
}
