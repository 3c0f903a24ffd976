using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class PicturePlanTests
{
    private static readonly Dictionary<string, MediaSound> s_unmeasured = [];

    private static Session Session(FrameRate rate, Timecode picture, Rational frames, long length = 2_000) => Of(Track("a", Clip("1", 0, 480_000))) with
    {
        Start = Timecode.FromLabel(10, 0, 0, 0, rate),
        Picture = new PictureReference("reels/Reel One.mov", picture, length, new string('a', 64)) { FramesPerSecond = frames, Bytes = 4_000_000 },
    };

    private static Preparation Prepared(Session session, PictureExtent extent, long start) =>
        Preparation.Default(session, TestFormats.Any) with { Picture = new PictureChoices(extent), From = RangeStart.Chosen, ChosenStart = start };

    private static PicturePlan Plan(Session session, PictureExtent extent, long start) => PicturePlan.Of(session, Prepared(session, extent, start))!;

    [Fact]
    public void Whole_it_begins_where_it_lies_and_says_how_far_the_files_are_from_there()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(9, 59, 58, 0, FrameRate.Fps25), 25);
        var plan = Plan(session, PictureExtent.Whole, 4_801);
        Assert.Equal((0, -96_000, "09:59:58:00", 2_000, "picture/Reel_One.mov"), (plan.FirstFrame, plan.Sample, plan.Start.ToString(), plan.LengthFrames, plan.Path));
        Assert.Equal("100 801 samples after its first frame", plan.Against.Replace('\u202f', ' ').Replace('\u00a0', ' ').Replace('\u2009', ' '));
        Assert.Equal(4_000_000, plan.Bytes);
    }

    [Fact]
    public void Cut_it_begins_with_the_frame_that_is_seen_when_the_files_begin()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(9, 59, 58, 0, FrameRate.Fps25), 25);

        // 1920 samples are a frame; the files begin in the middle of one, or right on one.
        foreach (var (start, first, sample) in new[] { (4_801L, 52L, 3_840L), (3_840, 52, 3_840), (3_839, 51, 1_920), (0, 50, 0) })
        {
            var plan = Plan(session, PictureExtent.FromFiles, start);
            Assert.Equal((first, sample, 2_000 - first), (plan.FirstFrame, plan.Sample, plan.LengthFrames));
            Assert.InRange(start - plan.Sample, 0, 1_919);
            Assert.Equal(plan.Sample, session.TimecodeScale.FirstSampleOf(plan.Start));
        }
    }

    [Fact]
    public void A_picture_of_another_rate_is_cut_in_its_own_frames_and_never_after_the_files()
    {
        var ntsc = new Rational(24_000, 1_001);
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), ntsc);
        var random = new Random(5);
        for (var i = 0; i < 500; i++)
        {
            var start = random.NextInt64(0, 3_000_000);
            var plan = Plan(session, PictureExtent.FromFiles, start);

            // Independent: a frame lasts 2002 samples of 48 kHz exactly.
            Assert.Equal(start / 2_002, plan.FirstFrame);
            Assert.Equal(start / 2_002 * 2_002, plan.Sample);
            Assert.Equal("23.976", plan.OwnStart!.Value.Rate.Name);
        }
    }

    [Fact]
    public void Drop_frame_labels_stay_drop_frame()
    {
        var session = Session(FrameRate.Fps2997Drop, Timecode.FromLabel(10, 0, 59, 28, FrameRate.Fps2997Drop), new Rational(30_000, 1_001));
        var at = session.TimecodeScale.FirstSampleOf(Timecode.FromLabel(10, 1, 0, 2, FrameRate.Fps2997Drop));
        Assert.Equal("10:01:00;02", Plan(session, PictureExtent.FromFiles, at + 3).OwnStart.ToString());
        Assert.Equal(2, Plan(session, PictureExtent.FromFiles, at + 3).FirstFrame);
    }

    [Fact]
    public void A_picture_that_begins_after_the_files_goes_whole_and_that_is_said()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(10, 0, 1, 0, FrameRate.Fps25), 25);
        var plan = Plan(session, PictureExtent.FromFiles, 0);
        Assert.Equal((0, 48_000), (plan.FirstFrame, plan.Sample));
        Assert.EndsWith("samples before its first frame", plan.Against, StringComparison.Ordinal);
        Assert.Equal("with its first frame", Plan(session, PictureExtent.FromFiles, 48_000).Against);
    }

    [Fact]
    public void A_count_in_of_all_files_moves_the_cut_too()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(9, 59, 50, 0, FrameRate.Fps25), 25);
        var preparation = Prepared(session, PictureExtent.FromFiles, 96_000) with { Click = new ClickChoices(Print: true, CountInBars: 1, CountIn: CountIn.AllFiles) };
        var plan = DeliveryPlan.Make(session, preparation, s_unmeasured);
        Assert.Equal(plan.Range.Start, plan.Picture!.FilesStart);
        Assert.NotEqual(96_000, plan.Range.Start);
    }

    [Fact]
    public void The_plan_lists_it_and_the_record_names_it_where_it_lies()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), 25);
        var plan = DeliveryPlan.Make(session, Prepared(session, PictureExtent.FromFiles, 96_000), s_unmeasured);
        Assert.Equal($"{plan.Root}/picture/Reel_One.mov", Assert.Single(plan.Files, f => f.Kind == PlannedKind.Picture).Path);
        Assert.Equal(("picture/Reel_One.mov", "10:00:02:00", (string?)null), (plan.DeliveredSession().Picture!.FileName, plan.DeliveredSession().Picture!.Start.ToString(), plan.DeliveredSession().Picture!.Sha256));
        Assert.DoesNotContain(DeliveryPlan.Make(session, Prepared(session, PictureExtent.None, 0), s_unmeasured).Files, f => f.Kind == PlannedKind.Picture);
    }

    [Fact]
    public void What_cannot_go_is_said_before_anything_is_built()
    {
        var session = Session(FrameRate.Fps25, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), 25, length: 50);
        string? Problem(Session of, PictureExtent extent, long start = 0) => DeliveryPlan.Make(of, Prepared(of, extent, start), s_unmeasured).Problem;
        Assert.Null(Problem(session, PictureExtent.Whole, 200_000));
        Assert.Contains("has ended where the files begin", Problem(session, PictureExtent.FromFiles, 200_000), StringComparison.Ordinal);
        Assert.Null(Problem(session with { Picture = null }, PictureExtent.Whole));
        Assert.Contains("did not come", Problem(session with { Picture = session.Picture! with { Sha256 = null } }, PictureExtent.Whole), StringComparison.Ordinal);
        Assert.Contains("could not be read", Problem(session with { Picture = session.Picture! with { FramesPerSecond = null } }, PictureExtent.Whole), StringComparison.Ordinal);
        Assert.Null(Problem(session with { Picture = null }, PictureExtent.None));
    }

    [Fact]
    public void A_session_whose_picture_came_is_offered_it_whole_also_later()
    {
        var with = Session(FrameRate.Fps25, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), 25);
        var without = with with { Picture = null };
        Assert.Equal(PictureExtent.Whole, Preparation.Default(with, TestFormats.Any).Picture.Extent);
        var before = Preparation.Default(without, TestFormats.Any);
        Assert.Equal(PictureExtent.None, before.Picture.Extent);
        Assert.Equal(PictureExtent.Whole, before.For(with, without).Picture.Extent);
        Assert.Equal(PictureExtent.None, before.For(with, with).Picture.Extent);
    }
}
