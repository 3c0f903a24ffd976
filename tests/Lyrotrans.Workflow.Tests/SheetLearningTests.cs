using System.Text;
using System.Text.Json.Nodes;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Learning;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What a room takes is read off files that it wrote: what they agree on is asked for, all else stays open.</summary>
public sealed class SheetLearningTests(DemoSession demo)
{
    private static LearntSheet Learn(params string[] paths) => SheetLearning.Learn("Learnt", [.. paths.Select(p => ((IStoredFile)new DiskFile(p), Path.GetFileName(p)))]);

    private static JsonNode? Of(LearntSheet sheet, string path) => path.Split('/').Aggregate((JsonNode?)JsonNode.Parse(sheet.Json), (node, part) => node?[part]);

    private string Built(string ending, Func<ClipChoices, ClipChoices> choose, string format)
    {
        var clips = choose(new ClipChoices(SessionFormats.OfClips.Single(f => f.Id == format).Clips));
        var plan = demo.Plan(p => p with { Clips = clips, Tracks = [.. p.Tracks.Select(c => c with { Treatment = c.TrackId is "cello" or "piano" ? Treatment.KeepClips : Treatment.HoldBack })] });
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}{ending}");
        File.WriteAllBytes(path, PackageTamper.Read(demo.Build(plan), ending));
        return path;
    }

    [Fact]
    public void What_was_written_by_choices_is_learnt_as_those_choices()
    {
        var aaf = Learn(Built(".aaf", c => c.With("sectors", "512") with { Media = ClipMediaForm.InsideWave, FrameUnits = true, MonoOnly = true }, "AAF"));
        Assert.Equal("AAF", (string?)Of(aaf, "clips/file"));
        Assert.Equal("512", (string?)Of(aaf, "clips/options/sectors"));
        Assert.Equal("inside, WAVE", (string?)Of(aaf, "clips/media"));
        Assert.True((bool)Of(aaf, "clips/frameUnits")!);
        Assert.True((bool)Of(aaf, "clips/monoOnly")!);
        Assert.Equal("integer 24", (string?)Of(aaf, "clips/depth"));
        Assert.Equal((48_000, "25"), ((int)Of(aaf, "rate")!, (string?)Of(aaf, "frameRate")));
        var omf = Learn(Built(".omf", c => c with { Media = ClipMediaForm.InsideAiff, Depth = ClipDepth.Integer16, MonoOnly = true }, "OMF"));
        Assert.Equal(("OMF", "inside, AIFF", "integer 16"), ((string?)Of(omf, "clips/file"), (string?)Of(omf, "clips/media"), (string?)Of(omf, "clips/depth")));
        var otio = Learn(Built(".otio", c => c with { Media = ClipMediaForm.BesideWave, MonoOnly = false }, "OTIO"));
        Assert.Equal(("OTIO", "beside, WAVE"), ((string?)Of(otio, "clips/file"), (string?)Of(otio, "clips/media")));

        // Each is a sheet that can be chosen, and does what it says.
        var session = demo.Loaded.Session;
        var preparation = ReceiverSheet.Read(Encoding.UTF8.GetBytes(aaf.Json), "x").Apply(Preparation.Default(session, SessionFormats.Usual), session);
        Assert.True(preparation.Clips is { FrameUnits: true, MonoOnly: true, MediaForm: ClipMediaForm.InsideWave });
        Assert.Equal("Learnt", preparation.Sheet?.Name);
    }

    [Fact]
    public void Files_of_other_software_are_read_too_and_each_line_says_in_what_it_was_seen()
    {
        var frames = Learn(Fixtures.Path("aaf/frame-units.aaf"));
        Assert.True((bool)Of(frames, "clips/frameUnits")!);
        var line = frames.Lines.First(l => l.What == "places");
        Assert.Equal(("whole frames", true), (line.Value, line.IsTaken));
        Assert.Equal(["frame-units.aaf"], line.In);
        Assert.Equal("29.97 drop", (string?)Of(Learn(Fixtures.Path("aaf/drop-frame.aaf")), "frameRate"));
        Assert.Equal("inside, samples", (string?)Of(Learn(Fixtures.Path("aaf/embedded-pcm.aaf")), "clips/media"));
        Assert.All(Fixtures.Of("aaf", ".aaf").Concat(Fixtures.Of("omf", ".omf")).Concat(Fixtures.Of("otio", ".otio")), p =>
        {
            try
            {
                Assert.NotEmpty(Learn(p).Lines);
            }
            catch (BadInputException problem)
            {
                Assert.NotEmpty(problem.Message);
            }
        });
    }

    [Fact]
    public void Where_files_do_not_agree_both_are_said_and_the_field_stays_open()
    {
        var both = Learn(Fixtures.Path("aaf/frame-units.aaf"), Fixtures.Path("aaf/embedded-pcm.aaf"));
        Assert.Null(Of(both, "clips/frameUnits"));
        Assert.Equal(["samples", "whole frames"], both.Lines.Where(l => l.What == "places").Select(l => l.Value).Order());
        Assert.DoesNotContain(both.Lines, l => l.What == "places" && l.IsTaken);
        Assert.Equal("AAF", (string?)Of(both, "clips/file"));
    }

    [Fact]
    public void Sound_and_MIDI_say_their_format_depth_rate_and_form()
    {
        var stamped = Path.Combine(demo.Folder, "stamped");
        var learnt = Learn([.. Directory.GetFiles(stamped).Where(f => f.EndsWith(".wav", StringComparison.Ordinal) || f.EndsWith(".mid", StringComparison.Ordinal))]);
        Assert.Equal(("wav", "integer 24"), ((string?)Of(learnt, "container"), (string?)Of(learnt, "encoding")));
        Assert.NotNull(Of(learnt, "midi/form"));
        Assert.Null(Of(learnt, "clips"));
        Assert.Contains(learnt.Lines, l => l is { What: "names", IsTaken: false });
    }

    [Fact]
    public void Names_that_end_at_one_length_were_cut_off_there()
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, "cut")).FullName;
        var wave = File.ReadAllBytes(Directory.GetFiles(Path.Combine(demo.Folder, "stamped"), "*.wav")[0]);
        foreach (var name in new[] { "a long name of a f", "another long name ", "the third long nam", "short" })
        {
            File.WriteAllBytes(Path.Combine(folder, $"{name}.wav"), wave);
        }

        var learnt = Learn(Directory.GetFiles(folder));
        Assert.Equal(18, (int)Of(learnt, "longestName")!);
        Assert.Equal(3, learnt.Lines.Single(l => l.What == "names").In.Count);
    }

    [Theory]
    [InlineData("broken.aaf")]
    [InlineData("words.txt")]
    [InlineData("nothing.wav")]
    public void What_cannot_be_read_is_said_by_name_and_nothing_is_learnt(string name)
    {
        var path = Path.Combine(demo.Folder, name);
        File.WriteAllBytes(path, name switch { "broken.aaf" => File.ReadAllBytes(Fixtures.Path("aaf/pairs.aaf"))[..3000], "nothing.wav" => [], _ => "only words"u8.ToArray() });
        Assert.Contains(name, Assert.Throws<BadInputException>(() => Learn(Fixtures.Path("aaf/pairs.aaf"), path)).Message);
    }
}
