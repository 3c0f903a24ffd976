using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class RelinkTests
{
    private static readonly Media s_cello = new() { Id = "m1", FileName = "Cello.wav", Rate = SampleRate.Hz48000, Length = 1000, TimeReference = 77, Identifiers = ["m1", "A0419B7C.wav", MediaNames.ByStart(700, "start")] };

    private static SoundCandidate File(string name, long length = 1000, int channels = 1, SampleRate? rate = null, long? stamp = null, string? sha = null, string? umid = null, string? start = null) =>
        new(name, name, sha, rate ?? SampleRate.Hz48000, channels, length, stamp, umid, bytes => bytes == 700 ? start : null);

    private static LinkResult Link(Media media, long needed, params SoundCandidate[] files) => Relink.Match([media], new Dictionary<string, long> { [media.Id] = needed }, files, new Dictionary<string, string>())[media.Id];

    private static LinkResult Chosen(Media media, string choice, params SoundCandidate[] files) =>
        Relink.Match([media], new Dictionary<string, long>(), files, new Dictionary<string, string> { [media.Id] = choice })[media.Id];

    [Theory]
    [InlineData("Cello.wav")]
    [InlineData("cello.WAV")]
    [InlineData("A0419B7C.wav")]
    [InlineData("folder/A0419B7C.wav")]
    public void Its_name_or_that_of_its_locator_with_its_length_is_certain(string name)
    {
        var link = Link(s_cello, 900, File("other.wav"), File(name));
        Assert.Equal(name, link.Bound);
        Assert.Equal("found by name", link.Reason);
    }

    [Fact]
    public void Hash_identifier_and_the_start_of_the_file_are_certain_whatever_it_is_called()
    {
        Assert.Equal("x.wav", Link(s_cello with { Sha256 = "aa" }, 900, File("Cello.wav", sha: "bb"), File("x.wav", sha: "aa")).Bound);
        Assert.Equal("x.wav", Link(s_cello, 900, File("x.wav", umid: "m1")).Bound);
        Assert.Equal("x.wav", Link(s_cello, 900, File("x.wav", start: "start")).Bound);
        Assert.Equal("x.wav", Link(s_cello, 900, File("x.wav", stamp: 77)).Bound);
    }

    [Fact]
    public void Length_rate_and_channels_alone_are_in_doubt_with_their_reason()
    {
        var link = Link(s_cello, 900, File("renamed.wav"), File("longer.wav", 1001));
        Assert.Null(link.Bound);
        var evidence = Assert.Single(link.Doubtful);
        Assert.Equal(("renamed.wav", "length, rate and channels"), (evidence.Candidate, evidence.For[0]));
    }

    [Fact]
    public void A_name_with_too_little_sound_or_another_stamp_is_in_doubt_and_says_why()
    {
        var link = Link(s_cello, 900, File("Cello.wav", 800));
        Assert.Null(link.Bound);
        Assert.Empty(link.Doubtful);
        var stamped = Link(s_cello, 900, File("Cello.wav", 1200, stamp: 5));
        Assert.Null(stamped.Bound);
        Assert.Contains("its time stamp is another", stamped.Doubtful[0].Against);
    }

    [Fact]
    public void Fewer_channels_and_another_rate_are_another_file()
    {
        Assert.Null(Link(s_cello with { Channels = 2 }, 900, File("Cello.wav", channels: 1)).Bound);
        Assert.Null(Link(s_cello, 900, File("Cello.wav", rate: SampleRate.Hz44100)).Bound);
    }

    [Fact]
    public void What_the_engineer_chose_holds_and_may_be_nothing()
    {
        Assert.Equal("b.wav", Chosen(s_cello, "b.wav", File("Cello.wav"), File("b.wav", 5)).Bound);
        Assert.Null(Chosen(s_cello, string.Empty, File("Cello.wav")).Bound);
    }

    [Fact]
    public void A_file_that_is_bound_beyond_doubt_is_not_offered_for_another()
    {
        var other = s_cello with { Id = "m2", FileName = "Harp.wav", TimeReference = null, Identifiers = ["m2"] };
        var links = Relink.Match([s_cello, other], new Dictionary<string, long>(), [File("Cello.wav")], new Dictionary<string, string>());
        Assert.Equal("Cello.wav", links["m1"].Bound);
        Assert.Empty(links["m2"].Doubtful);
    }
}
