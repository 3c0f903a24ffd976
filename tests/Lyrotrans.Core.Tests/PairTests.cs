using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Tests;

public class PairTests
{
    private static Media File(string id, string name, int channels = 1, long length = 1000) => new() { Id = id, FileName = name, Channels = channels, Length = length, Sha256 = new string('a', 64) };

    private static Track Mono(string name, string media, int channel = 0, double pan = 0, long start = 0) => new()
    {
        Id = name,
        Name = name,
        Pan = pan,
        Lanes = [new Lane("main", [new Clip { Id = name, Name = name, Media = media, ChannelMap = [channel], Start = start, Length = 500, SourceOffset = 7 }])],
    };

    private static Session Of(Media[] media, params Track[] tracks) => new() { Name = "s", Media = media.ToValueArray(), Tracks = tracks.ToValueArray() };

    [Theory]
    [InlineData("Hall.L", "Hall", 0)]
    [InlineData("Hall_R.wav", "Hall", 1)]
    [InlineData("Hall (left)", "Hall", 0)]
    [InlineData("Hall-Right", "Hall", 1)]
    [InlineData("Array 3", "Array", 2)]
    public void A_side_is_taken_off_a_name(string name, string whole, int channel) => Assert.Equal((whole, channel), (SideName.Of(name)!.Value.Base, SideName.Of(name)!.Value.Channel));

    [Theory]
    [InlineData("Cellar")]
    [InlineData("L")]
    [InlineData("Horn")]
    public void A_name_without_a_side_has_none(string name) => Assert.Null(SideName.Of(name));

    [Fact]
    public void Channels_go_each_to_one_track_and_none_is_lost()
    {
        var clip = new Clip { Id = "c", Name = "c", Media = "m", ChannelMap = [3, 2, 1, 0], Length = 10 };
        var session = new Session
        {
            Name = "s",
            Media = [new Media { Id = "m", FileName = "six.wav", Channels = 4, Length = 10 }],
            Tracks = [new Track { Id = "t", Name = "Array", Channels = 4, Lanes = [new Lane("l", [clip])] }],
        };
        var split = PairJoin.Split(session, "t", [new ChannelGroup("Far", [2]), new ChannelGroup("Near", [1, 0]), new ChannelGroup("Door", [3])])!;
        Assert.Equal([("t", "Far", 1), ("t.2", "Near", 2), ("t.4", "Door", 1)], split.Tracks.Select(t => (t.Id, t.Name, t.Channels)));
        Assert.Equal(["1", "2 3", "0"], split.Tracks.Select(t => string.Join(' ', t.Lanes[0].Clips[0].ChannelMap)));
        Assert.Empty(SessionRules.Check(split));
        Assert.Null(PairJoin.Split(session, "t", [new ChannelGroup("Far", [0, 1, 2])]));
        Assert.Null(PairJoin.Split(session, "t", [new ChannelGroup("Far", [0, 1, 2, 3]), new ChannelGroup("Near", [])]));
        Assert.Null(PairJoin.Split(session, "t", [new ChannelGroup("Far", [0, 1]), new ChannelGroup("Near", [1, 2, 3])]));
    }

    [Fact]
    public void Channels_of_one_file_are_certain_and_joined_without_a_new_file()
    {
        var session = Of([File("m", "array.wav", 4)], Mono("Array 1", "m", 0), Mono("Array 2", "m", 1), Mono("Array 3", "m", 2), Mono("Array 4", "m", 3));
        var pair = Assert.Single(PairFinder.Pairs(session));
        Assert.Equal((100, "Array"), (pair.Confidence, pair.Name));
        Assert.Empty(PairJoin.Needs(session, [.. session.Tracks]));
        var joined = PairJoin.Join(session, [.. pair.Tracks], "Array", _ => null)!;
        Assert.Equal([0, 1, 2, 3], Assert.Single(joined.Tracks).Lanes[0].Clips[0].ChannelMap);
        Assert.Empty(SessionRules.Check(joined));
    }

    [Fact]
    public void Names_edits_pans_and_sound_add_up_and_different_edits_hinder()
    {
        var media = new[] { File("l", "Hall_L.wav"), File("r", "Hall_R.wav") };
        var pair = Assert.Single(PairFinder.Pairs(Of(media, Mono("Hall L", "l", pan: -1), Mono("Hall R", "r", pan: 1)), (_, _) => 1));
        Assert.Equal(99, pair.Confidence);
        Assert.Null(pair.Hindrance);
        Assert.Contains(pair.Reasons, r => r.Contains("mono inside", StringComparison.Ordinal));
        var moved = Assert.Single(PairFinder.Pairs(Of(media, Mono("Hall L", "l"), Mono("Hall R", "r", start: 1))));
        Assert.Equal("their edits differ", moved.Hindrance);
        Assert.True(moved.Confidence < pair.Confidence);
    }

    [Fact]
    public void Numbers_that_count_tracks_are_no_channels()
    {
        var media = new[] { File("a", "Horn 1.wav"), File("b", "Horn 2.wav"), File("c", "Horn 3.wav") };
        Assert.Empty(PairFinder.Pairs(Of(media, Mono("Horn 1", "a"), Mono("Horn 2", "b"), Mono("Horn 3", "c"))));
    }

    [Fact]
    public void Joining_what_was_split_gives_the_original() => Gen.Int[2, 6].Sample(channels =>
    {
        var track = Mono("Array", "m") with { Channels = channels, Lanes = [new Lane("main", [new Clip { Id = "c", Name = "c", Media = "m", ChannelMap = Enumerable.Range(0, channels).ToValueArray(), Length = 500 }])] };
        var session = Of([File("m", "array.wav", channels)], track);
        var split = PairJoin.Split(session, track.Id)!;
        Assert.Equal(channels, split.Tracks.Count);
        Assert.Empty(SessionRules.Check(split));
        return PairJoin.Join(split, [.. split.Tracks.Select(t => t.Id)], "Array", _ => null) == session;
    });
}
