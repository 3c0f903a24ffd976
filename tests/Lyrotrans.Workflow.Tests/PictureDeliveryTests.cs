using System.Security.Cryptography;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The reference picture from the intake to the proof.</summary>
public sealed class PictureDeliveryTests(DemoSession demo)
{
    private DeliveryPlan Plan(PictureExtent extent, PictureForm form = PictureForm.AsItIs, long start = 0) => demo.Plan(
        p => p with
        {
            Picture = new PictureChoices(extent, form),
            From = RangeStart.Chosen,
            ChosenStart = start,
            ChosenEnd = start + 9_600,
            Tracks = [.. p.Tracks.Select(c => c.TrackId == "piano" ? c : c with { Treatment = Treatment.HoldBack })],
        },
        demo.WithPicture);

    private static List<ProofRow> Failed(ProofReport report) => [.. report.Rows.Where(r => !r.Passed)];

    [Fact]
    public void The_demo_has_a_picture_with_sound_that_is_known_by_what_its_file_says()
    {
        var picture = demo.WithPicture.Session.Picture!;
        Assert.Equal((new Rational(25, 1), 2, "10:00:00:00"), (picture.FramesPerSecond!.Value, picture.SoundChannels, picture.Start.ToString()));
        Assert.Equal(188, picture.LengthFrames);
    }

    [Theory]
    [InlineData(PictureExtent.Whole, PictureForm.AsItIs, 0, "frames by their SHA-256")]
    [InlineData(PictureExtent.FromFiles, PictureForm.AsItIs, 96_000, "frames by their SHA-256")]
    [InlineData(PictureExtent.FromFiles, PictureForm.AsItIs, 50_001, "at its place")]
    [InlineData(PictureExtent.Whole, PictureForm.H264, 4_800, "at its place")]
    public void It_goes_and_is_proved(PictureExtent extent, PictureForm form, long start, string by)
    {
        var plan = Plan(extent, form, start);
        var zip = demo.Build(plan, demo.WithPicture);
        var report = demo.Prove(zip, plan, demo.WithPicture);
        Assert.Empty(Failed(report));
        Assert.Contains(report.Rows, r => r.What == by && r.Subject == Path.GetFileName(plan.Picture!.Path));
        Assert.Contains(report.Rows, r => r.What == "sound left out");
        var sheet = System.Text.Encoding.UTF8.GetString(PackageTamper.Read(zip, ".html"));
        Assert.Contains(plan.Picture!.Path, sheet, StringComparison.Ordinal);
        Assert.Contains("its sound was left out", sheet, StringComparison.Ordinal);
    }

    [Fact]
    public void A_picture_of_another_cut_is_found_frame_by_frame()
    {
        // One frame later, by a copy and coded anew: each is held to the other's plan.
        foreach (var (start, other) in new[] { (96_000L, 97_920L), (50_001, 51_921), (50_001, 48_081) })
        {
            var built = demo.Build(Plan(PictureExtent.FromFiles, PictureForm.AsItIs, start), demo.WithPicture);
            var plan = Plan(PictureExtent.FromFiles, PictureForm.AsItIs, other);
            var rows = Failed(demo.Prove(built, plan, demo.WithPicture)).Where(r => r.Subject == Path.GetFileName(plan.Picture!.Path)).Select(r => r.What).ToList();
            Assert.Contains("timecode of its first frame", rows);
            Assert.Contains("frames", rows);
            Assert.Contains(rows, r => r is "frames seen" or "at its place" or "frames by their SHA-256");
        }
    }

    [Fact]
    public void A_file_without_sound_goes_as_it_lies()
    {
        var plan = Plan(PictureExtent.FromFiles, PictureForm.H264);
        var silent = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.mp4");
        File.WriteAllBytes(silent, PackageTamper.Read(demo.Build(plan, demo.WithPicture), ".mp4"));
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, $"{Guid.NewGuid():N}")).FullName;
        File.Copy(silent, Path.Combine(folder, "reel-two.mp4"));
        File.Copy(Directory.EnumerateFiles(Path.Combine(demo.Folder, "stamped"), "*.wav").First(), Path.Combine(folder, "sound.wav"));
        var loaded = SessionLoader.Load(folder, Path.Combine(demo.Folder, "scratch"));
        Assert.Equal(("reel-two.mp4", "10:00:00:00"), (loaded.Session.Picture!.FileName, loaded.Session.Picture.Start.ToString()));
        var again = demo.Plan(p => p with { ChosenEnd = 9_600 }, loaded);
        var zip = demo.Build(again, loaded);
        Assert.Equal(SHA256.HashData(File.ReadAllBytes(silent)), SHA256.HashData(PackageTamper.Read(zip, ".mp4")));
        Assert.Empty(Failed(demo.Prove(zip, again, loaded)));
    }

    [Fact]
    public void A_picture_that_went_while_it_was_built_is_said_and_nothing_is_written()
    {
        var plan = Plan(PictureExtent.Whole);
        var gone = demo.WithPicture.Session.Picture! with { FileName = "picture/none.mov" };
        var without = DeliveryPlan.Make(plan.Session with { Picture = gone }, plan.Preparation, new Dictionary<string, Core.Sound.MediaSound>());
        Assert.Contains("not there any more", Assert.Throws<BadInputException>(() => demo.Build(without, demo.WithPicture)).Message, StringComparison.Ordinal);
    }

    private static IntakeItem Reel(string name, string? start = "36002", string? rate = "25") =>
        new() { Id = name, Name = name, Sha256 = new string('c', 64), Bytes = 5, Kind = Formats.Recognition.ContentKind.Picture, PictureRate = rate, PictureSeconds = "10", PictureStart = start, Placement = new Placement() };

    private static JoinedSession Joined(params IntakeItem[] items) => SessionJoin.Join(new IntakeState { SessionName = "S", Start = "10:00:00:00", Items = items }, _ => throw new InvalidOperationException());

    [Fact]
    public void It_lies_at_its_timecode_or_where_it_is_put()
    {
        string Start(IntakeItem item) => Joined(item).Session.Picture!.Start.ToString();
        Assert.Equal("10:00:02:00", Start(Reel("a.mov")));
        Assert.Equal("10:00:00:00", Start(Reel("a.mov", start: null)));
        Assert.Equal("10:00:00:00", Start(Reel("a.mov") with { Placement = new Placement(PlacementRule.SessionStart) }));
        Assert.Equal("10:00:01:00", Start(Reel("a.mov") with { Placement = new Placement(PlacementRule.Offset, 48_000) }));
        Assert.Equal("at session start: it has no timecode", Joined(Reel("a.mov", start: null)).Placed["a.mov"].Reason);
        Assert.Equal(96_000, Joined(Reel("a.mov")).Placed["a.mov"].Sample);
        Assert.Equal(250, Joined(Reel("a.mov")).Session.Picture!.LengthFrames);
    }

    [Fact]
    public void Of_two_the_other_is_named_and_does_not_go()
    {
        var joined = Joined(Reel("a.mov"), Reel("b.mov"));
        Assert.Equal("a.mov", joined.Session.Picture!.FileName);
        Assert.Contains(joined.Findings, f => f.Code == IntakeCodes.OtherPicture && f.Text.StartsWith("b.mov does not go", StringComparison.Ordinal));
        Assert.Null(joined.Placed["b.mov"].Sample);
    }

    [Fact]
    public void One_that_cannot_be_read_is_the_sessions_by_name_and_is_not_offered()
    {
        var session = Joined(Reel("a.mov", rate: null)).Session;
        Assert.False(session.Picture!.IsThere);
        Assert.Equal(PictureExtent.None, Preparation.Default(session, Formats.Registry.SessionFormats.Usual).Picture.Extent);
    }
}
