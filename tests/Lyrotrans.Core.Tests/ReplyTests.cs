using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Replying;
using Lyrotrans.Core.Sessions;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

/// <summary>What goes back to the room that sent a package.</summary>
public class ReplyTests
{
    private static readonly string s_manifest = new('a', 64);

    private static Preparation Replied(Session session, Preparation before) => Reply.Of(session, before, new HashSet<string> { "came" }, s_manifest, 4800, 7)!;

    private static IEnumerable<(string, Treatment, string?)> Rows(Preparation preparation) => preparation.Tracks.Select(c => (c.TrackId, c.Treatment, c.Name));

    [Fact]
    public void What_was_added_is_numbered_on_and_what_is_added_later_goes_on_from_there()
    {
        var first = Of(Track("came", Clip("1", 0, 10)), Track("drum", Clip("2", 0, 10)));
        var once = Replied(first, Preparation.Default(first, TestFormats.Any));
        Assert.Equal([("came", Treatment.HoldBack, null), ("drum", Treatment.PrintDry, "08_drum")], Rows(once));
        Assert.Equal((RangeStart.Chosen, 4800L, s_manifest), (once.From, once.ChosenStart, once.ReplyTo));

        var more = Of([.. first.Tracks, Track("bell", Clip("3", 0, 10)), Track("horn", Clip("4", 0, 10))]);
        Assert.Equal(
            [("came", Treatment.HoldBack, null), ("drum", Treatment.PrintDry, "08_drum"), ("bell", Treatment.PrintDry, "09_bell"), ("horn", Treatment.PrintDry, "10_horn")], Rows(Replied(more, once)));

        // Pressed once more nothing changes.
        Assert.Equal(Replied(more, once), Replied(more, Replied(more, once)));
    }

    [Fact]
    public void A_further_form_has_a_number_of_its_own_and_keeps_it()
    {
        var session = Of(Track("came", Clip("1", 0, 10)), Track("drum", Clip("2", 0, 10)), Track("horn", Clip("3", 0, 10)));
        var both = Preparation.Default(session, TestFormats.Any);
        both = both with { Tracks = [.. both.Tracks.Select(c => c.TrackId == "drum" ? c with { Beneath = [new BeneathChoice(Treatment.PrintThrough)] } : c)] };
        var once = Replied(session, both);
        Assert.Equal(["08_drum", "10_horn"], once.Tracks.Skip(1).Select(c => c.Name));
        Assert.StartsWith("09_drum", once.Tracks[1].Beneath[0].Name, StringComparison.Ordinal);
        Assert.Equal(once, Replied(session, once));
    }

    [Fact]
    public void Names_without_numbers_stay_without_and_nothing_added_is_no_reply()
    {
        var session = Of(Track("came", Clip("1", 0, 10)), Track("drum", Clip("2", 0, 10)));
        var plain = Replied(session, Preparation.Default(session, TestFormats.Any) with { NamePattern = "{track}" });
        Assert.Equal("drum", plain.Tracks[1].Name);
        Assert.Equal(plain, Replied(session, plain));
        var alone = Of(Track("came", Clip("1", 0, 10)));
        Assert.Null(Reply.Of(alone, Preparation.Default(alone, TestFormats.Any), new HashSet<string> { "came" }, s_manifest, 0, 7));
    }
}
