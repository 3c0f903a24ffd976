using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>What a session becomes in a program that reads with limits.</summary>
public class StandInTests
{
    private static readonly HashSet<string> s_noFiles = [];

    private static Session Of(FrameRate rate, params Clip[] clips) => new()
    {
        Name = "Orrery Suite",
        Start = new Timecode(0, rate),
        Media = [new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Channels = 2, Length = 10_000_000, Encoding = SampleEncoding.Integer24 }],
        Tracks = [new Track { Id = "t", Name = "Cello à côté", Channels = 2, FaderDb = -3, Pan = 0.5, Lanes = [new Lane("main", [.. clips])] }],
    };

    private static Clip At(long start, long length, Fade? fadeIn = null, Fade? fadeOut = null) =>
        new() { Id = $"c{start}", Name = "take", Media = "m", ChannelMap = [0, 1], Start = start, Length = length, SourceOffset = start + 7, GainDb = -2, FadeIn = fadeIn ?? Fade.None, FadeOut = fadeOut ?? Fade.None };

    private static IReadOnlyList<Clip> Read(Session session, params ReadingLimit[] unread) => StandIn.Of(session, new ReadingLimits(unread), s_noFiles).Tracks[0].Lanes[0].Clips;

    [Fact]
    public void Every_kind_is_called_something_of_its_own() =>
        Assert.Equal(Enum.GetValues<ReadingLimit>(), ReadingLimits.Kinds.Select(k => k.Value));

    [Fact]
    public void A_program_that_reads_everything_changes_nothing()
    {
        var session = Of(FrameRate.Fps25, At(100, 5000), At(9000, 2001));
        Assert.Equal(session, StandIn.Of(session, ReadingLimits.None, s_noFiles));
    }

    [Theory]
    [InlineData(25, 1)]
    [InlineData(30000, 1001)]
    public void On_frames_no_end_moves_by_more_than_half_of_one_and_what_touched_still_does(int numerator, int denominator)
    {
        var rate = denominator == 1 ? FrameRate.Fps25 : FrameRate.Fps2997;
        var random = new Random(20);
        var (clips, at) = (new List<Clip>(), 0L);
        for (var i = 0; i < 300; i++)
        {
            var length = random.NextInt64(4000, 90_000);
            clips.Add(At(at, length));
            at += length + (i % 3 == 0 ? 0 : random.NextInt64(0, 30_000));
        }

        var (session, frame) = (Of(rate, [.. clips]), 48_000.0 * denominator / numerator);
        var read = Read(session, ReadingLimit.BetweenFrames);
        Assert.Equal(clips.Count, read.Count);
        foreach (var (sent, found) in clips.Zip(read))
        {
            Assert.True(Math.Abs(found.Start - sent.Start) <= (frame / 2) + 1, $"{sent.Start} {found.Start}");
            Assert.True(Math.Abs(found.End - sent.End) <= (frame / 2) + 1);
            Assert.True(Math.Abs((found.Start / frame) - Math.Round(found.Start / frame)) < 1 / frame);
            Assert.Equal(sent.SourceOffset, found.SourceOffset);
        }

        foreach (var ((a, b), (x, y)) in clips.Zip(clips.Skip(1)).Zip(read.Zip(read.Skip(1))))
        {
            Assert.True(x.End <= y.Start);
            Assert.True(a.End != b.Start || x.End == y.Start);
        }
    }

    [Fact]
    public void What_is_shorter_than_half_a_frame_is_lost() => Assert.Empty(Read(Of(FrameRate.Fps25, At(1920, 800)), ReadingLimit.BetweenFrames));

    [Fact]
    public void Without_crossfades_the_later_clip_cuts_the_earlier_and_other_fades_stay()
    {
        var read = Read(Of(FrameRate.Fps25, At(0, 10_000, new Fade(500), new Fade(2000)), At(8000, 10_000, new Fade(2000), new Fade(700))), ReadingLimit.Crossfades);
        Assert.Equal((0L, 8000L, 500L, 0L), (read[0].Start, read[0].Length, read[0].FadeIn.Length, read[0].FadeOut.Length));
        Assert.Equal((8000L, 10_000L, 0L, 700L), (read[1].Start, read[1].Length, read[1].FadeIn.Length, read[1].FadeOut.Length));
    }

    [Fact]
    public void A_clip_that_a_later_one_covers_whole_is_lost()
    {
        var read = Read(Of(FrameRate.Fps25, At(5000, 900, null, new Fade(900)), At(5000, 4000, new Fade(900))), ReadingLimit.Crossfades);
        Assert.Equal(4000, Assert.Single(read).Length);
    }

    [Fact]
    public void Levels_and_channels_that_are_not_read_are_gone()
    {
        var track = StandIn.Of(Of(FrameRate.Fps25, At(0, 5000)), new ReadingLimits([ReadingLimit.Channels, ReadingLimit.Volume, ReadingLimit.Pan, ReadingLimit.ClipGain]), s_noFiles).Tracks[0];
        Assert.Equal((1, 0.0, 0.0), (track.Channels, track.FaderDb, track.Pan));
        Assert.Equal(0, Assert.Single(track.Lanes[0].Clips[0].ChannelMap));
        Assert.Equal(0, track.Lanes[0].Clips[0].GainDb);
    }

    [Fact]
    public void Files_of_sound_come_in_where_clips_do_not()
    {
        var session = Of(FrameRate.Fps25, At(100, 5000));
        var limits = new ReadingLimits([ReadingLimit.Clips, ReadingLimit.BetweenFrames]);
        Assert.Empty(StandIn.Of(session, limits, s_noFiles).Tracks);
        Assert.Equal(100, StandIn.Of(session, limits, new HashSet<string> { "t" }).Tracks[0].Lanes[0].Clips[0].Start);
    }

    [Fact]
    public void Names_are_of_letters_that_are_taken_and_no_longer_than_they_may_be() =>
        Assert.Equal("Cello a ", StandIn.Of(Of(FrameRate.Fps25), new ReadingLimits([], 8, NameLetters.Ascii), s_noFiles).Tracks[0].Name);

    [Fact]
    public void A_sheet_is_read_as_what_its_program_cannot_do_and_no_sheet_says_nothing()
    {
        var asked = new Preparation { Clips = new ClipChoices(s_format) { FrameUnits = true, RenderGain = true, MonoOnly = false, Fades = FadeForm.Rendered, Volume = VolumeForm.LeftOut } };
        Assert.Equal(ReadingLimits.None, ReadingLimits.Of(asked, s_format));
        var limits = ReadingLimits.Of(asked with { Sheet = new SheetTerms("Tarn Lane") { LongestName = 12, Letters = NameLetters.Plain, Rate = 44_100, Formats = "other" } }, s_format);
        Assert.Equal([ReadingLimit.Clips, ReadingLimit.BetweenFrames, ReadingLimit.Crossfades, ReadingLimit.Fades, ReadingLimit.ClipGain, ReadingLimit.Volume, ReadingLimit.Mutes], limits.Unread);
        Assert.Equal((12L, NameLetters.Plain, 44_100L), (limits.LongestName, limits.Letters, limits.Hz));
    }

    [Fact]
    public void That_clips_go_as_mono_is_no_word_about_files_and_that_files_are_wanted_so_is()
    {
        var asked = new Preparation { Clips = new ClipChoices(s_format), Sheet = new SheetTerms("Tarn Lane") { MutedClips = true } };
        Assert.Empty(ReadingLimits.Of(asked, s_format).Unread);
        Assert.Equal([ReadingLimit.Channels], ReadingLimits.Of(asked with { Kinds = new KindChoices().With(FileKind.Tracks, new KindChoice { Channels = DeliveredChannels.Separate }) }, s_format).Unread);
    }

    private static readonly ClipFormat s_format = new()
    {
        Id = "kept",
        Extension = ".kept",
        Media = [default],
        Fades = [FadeForm.Transitions, FadeForm.Rendered],
        Transitions = default,
        MediaId = id => id,
        IsMediaId = _ => true,
        FileBytes = 1,
        ClipBytes = 1,
    };
}
