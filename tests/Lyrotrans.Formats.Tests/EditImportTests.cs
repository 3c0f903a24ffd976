using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Tests;

/// <summary>What a composition says that no session can: taken as what it can be, and told.</summary>
public class EditImportTests
{
    private static EditClip Clip => new() { Media = "m", Start = 0, Length = 1000 };

    private static (Session Session, IReadOnlyList<Finding> Findings) Make(EditClip clip, int channels = 1, long startFrames = 0) => EditImport.Make(Composition([clip], channels, startFrames));

    private static EditComposition Composition(IReadOnlyList<EditClip> clips, int channels = 1, long startFrames = 0) => new()
    {
        Name = "Orrery Suite",
        StartFrames = startFrames,
        Media = new Dictionary<string, DocumentMedia> { ["m"] = new() { Id = "m", FileName = "bell.wav", Channels = channels, Length = 5000 } },
        Tracks = [new EditTrack { Name = "Bell", Clips = clips }],
    };

    [Fact]
    public void A_fade_that_is_shorter_than_nothing_is_left_out()
    {
        var (session, findings) = Make(Clip with { FadeIn = new EditFade(-5, FadeShape.Linear), FadeOut = new EditFade(10, FadeShape.Linear) });
        Assert.Equal((0, 10), (session.Tracks[0].Lanes[0].Clips[0].FadeIn.Length, session.Tracks[0].Lanes[0].Clips[0].FadeOut.Length));
        Assert.Equal([EditCodes.FadeLength], findings.Select(f => f.Code));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(-3)]
    [InlineData(1025)]
    public void A_medium_of_channels_that_none_has_is_mono(int channels)
    {
        var (session, findings) = Make(Clip, channels);
        Assert.Equal(1, session.Media[0].Channels);
        Assert.Equal([EditCodes.ChannelCount], findings.Select(f => f.Code));
        Assert.Equal(1024, Make(Clip, 1024).Session.Media[0].Channels);
    }

    [Fact]
    public void A_start_beyond_midnight_is_the_label_that_it_shows()
    {
        var day = FrameRate.Fps25.FramesPerDay;
        Assert.Equal(new Timecode(7, FrameRate.Fps25), Make(Clip, startFrames: (3 * day) + 7).Session.Start);
        Assert.Equal(new Timecode(day - 1, FrameRate.Fps25), Make(Clip, startFrames: -1).Session.Start);
    }

    [Fact]
    public void However_clips_and_fades_lie_over_each_other_what_comes_in_is_a_session_and_what_gave_way_is_told()
    {
        var clips = Gen.Select(Gen.Int[0, 60], Gen.Int[1, 40], Gen.Int[0, 30], Gen.Int[0, 30], Gen.Bool).Select((start, length, into, from, muted) => Clip with
        {
            Start = new Rational(start, 2),
            Length = new Rational(length, 2),
            FadeIn = new EditFade(new Rational(into, 2), FadeShape.Linear),
            FadeOut = new EditFade(from, FadeShape.EqualPower),
            Muted = muted && start % 3 == 0,
        }).Array[1, 6];
        clips.Sample(
            laid =>
            {
                var (session, findings) = EditImport.Make(Composition(laid));
                Assert.Empty(SessionRules.Check(session));
                Assert.True(session.Tracks[0].Lanes[0].Clips.Count == laid.Length || findings.Any(f => f.Code == EditCodes.Overlap));
            },
            iter: 20_000);
    }

    [Fact]
    public void A_place_that_no_session_can_say_is_refused()
    {
        var far = SessionLimits.FarthestSample / 2;
        Assert.Equal(far, Make(Clip with { Start = far - 1000 }).Session.EndSample);
        Assert.Equal(EditCodes.PlaceTooFar, Assert.Throws<BadInputException>(() => Make(Clip with { Start = far })).Code);
        Assert.Equal(EditCodes.PlaceTooFar, Assert.Throws<BadInputException>(() => Make(Clip with { Start = -far - 1 })).Code);
    }
}
