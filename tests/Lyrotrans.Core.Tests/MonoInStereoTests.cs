using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class MonoInStereoTests
{
    private static IReadOnlyList<string> Offered(double? sideDb, Func<TrackChoice, TrackChoice>? change = null, params Clip[] clips)
    {
        var session = Of(Track("pair", clips.Length > 0 ? clips : [Clip("1", 0, 1000) with { ChannelMap = [0, 1] }]) with { Channels = 2 }) with { Media = [Media(channels: 2)] };
        var preparation = Preparation.Default(session, TestFormats.Any);
        preparation = preparation with { Tracks = [.. preparation.Tracks.Select(change ?? (c => c))] };
        return MonoInStereo.Of(session, preparation, new Dictionary<string, MediaSound> { ["m"] = new(0, 480_000, 0.5, sideDb, 0) });
    }

    [Fact]
    public void What_is_the_same_within_90_dB_is_offered_and_what_is_not_is_not()
    {
        Assert.Equal(["pair"], Offered(double.NegativeInfinity));
        Assert.Equal(["pair"], Offered(-90));
        Assert.Empty(Offered(-89.9));
        Assert.Empty(Offered(null));
    }

    [Fact]
    public void Nothing_is_offered_twice_or_where_it_would_be_another_sound()
    {
        Assert.Empty(Offered(-120, c => c with { Channels = DeliveredChannels.Mono }));
        Assert.Empty(Offered(-120, c => c with { Treatment = Treatment.PrintMixed }));
        Assert.Empty(Offered(-120, c => c with { Treatment = Treatment.HoldBack }));
        Assert.Equal(["pair"], Offered(-120, c => c with { Channels = DeliveredChannels.Separate }));
    }

    [Fact]
    public void A_clip_of_one_channel_in_both_is_the_same_and_one_other_clip_is_enough_against()
    {
        var same = Clip("1", 0, 1000) with { ChannelMap = [1, 1] };
        Assert.Equal(["pair"], Offered(-10, null, same));
        Assert.Empty(Offered(-10, null, same, Clip("2", 2000, 1000) with { ChannelMap = [0, 1] }));
        Assert.Equal(["pair"], Offered(-10, null, same, Clip("2", 2000, 1000) with { ChannelMap = [0, 1], Muted = true }));
    }
}
