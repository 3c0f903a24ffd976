using System.Diagnostics;
using Lyrotrans.Audio.Pictures;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Pictures that ffmpeg made here, cut and coded anew, and held to their sources by means of their own.</summary>
public sealed class PictureTests(PictureTests.OneReel reel) : IClassFixture<PictureTests.OneReel>, IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-pictures-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static string Ask(string program, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true })!;
        var said = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return said.Trim();
    }

    /// <summary>A picture that most tests only read.</summary>
    public sealed class OneReel : IDisposable
    {
        private readonly string _folder = Directory.CreateTempSubdirectory("lyro-reel-").FullName;

        public OneReel() => Path = Made(_folder, "reel.mov", "25", "-c:v", "libx264", "-g", "25", "-bf", "2", "-c:a", "pcm_s16le");

        public string Path { get; }

        public void Dispose() => Directory.Delete(_folder, recursive: true);
    }

    private static string Made(string folder, string name, string rate, params string[] coder)
    {
        var path = Path.Combine(folder, name);
        Ask("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", $"testsrc2=size=320x240:rate={rate}:duration=4", "-f", "lavfi", "-i", "sine=440:sample_rate=48000:duration=4", .. coder, "-pix_fmt", "yuv420p", "-timecode", "10:00:00:00", path]);
        return path;
    }

    private static PicturePlan Plan(PictureSource source, string name, long frame, PictureForm form = PictureForm.AsItIs)
    {
        var session = new Session
        {
            Name = "S",
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
            Picture = source.Described(new PictureReference(name, Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), 0, new string('a', 64))),
        };
        var start = (long)(frame * session.Rate.PerSecond / source.Picture.FramesPerSecond!.Value).Ceiling();
        var preparation = new Preparation { Clips = new ClipChoices(TestFormats.Any), From = RangeStart.Chosen, ChosenStart = start, Picture = new PictureChoices(PictureExtent.FromFiles, form) };
        return PicturePlan.Of(session, preparation)!;
    }

    private (MadePicture Made, PictureSource Found) Make(PictureSource source, PicturePlan plan, string name = "out")
    {
        var target = Path.Combine(_folder, name + Path.GetExtension(plan.FileName));
        File.Create(target).Dispose();
        var made = PictureMaker.Make(source, plan, target, _ => { }, CancellationToken.None);
        return (made, PictureSource.Open(target, Path.GetFileName(target), target.EndsWith(".mxf", StringComparison.Ordinal) ? "mxf" : "mov"));
    }

    /// <summary>What ffmpeg's own hashing says of the frames as they lie, of a run of its own.</summary>
    private static string[] Hashes(string path) => [.. Ask("ffmpeg", "-v", "error", "-i", path, "-map", "0:v", "-c", "copy", "-f", "framehash", "-hash", "sha256", "-").Split('\n').Where(l => l.Length > 0 && l[0] != '#').Select(l => l.Split(',')[5].Trim())];

    /// <summary>Every frame decoded, small and grey, by a run of its own that reads from the first frame on.</summary>
    private static byte[] Seen(string path)
    {
        using var process = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-i", path, "-map", "0:v", "-vf", "scale=16:12,format=gray", "-fps_mode", "passthrough", "-f", "rawvideo", "-"]) { RedirectStandardOutput = true })!;
        using var bytes = new MemoryStream();
        process.StandardOutput.BaseStream.CopyTo(bytes);
        return bytes.ToArray();
    }

    [Fact]
    public void It_is_told_what_a_picture_is()
    {
        var source = PictureSource.Open(reel.Path, "reel.mov", "mov");
        Assert.Equal("H.264, 320 × 240, 25 frames a second, 0 min 04 s", source.Picture.Words);
        Assert.Equal((1, new Rational(36_000, 1)), (source.Facts.Streams.Count, source.Facts.StartSeconds!.Value));
        var packets = source.Packets(CancellationToken.None);
        Assert.Equal((100, true), (packets.Seen, packets.AreEven(1 / (25 * source.Picture.Tick!.Value))));
        Assert.Equal(Hashes(source.Path), packets.All.Select(p => p.Sha256));
        Assert.Equal([0L, 25, 50, 75], Enumerable.Range(0, 100).Where(f => packets.CutAt(f) is not null).Select(f => (long)f));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(50)]
    public void Whole_or_cut_between_groups_its_frames_are_the_sources_own_and_its_sound_is_gone(int frame)
    {
        var source = PictureSource.Open(reel.Path, "reel.mov", "mov");
        var (made, found) = Make(source, Plan(source, "reel.mov", frame));
        Assert.Equal((true, 100L - frame), (made.IsCopy, made.Frames));
        Assert.Equal(Hashes(source.Path)[frame..], Hashes(found.Path));
        Assert.Empty(found.Facts.Streams);
        Assert.Equal(new Rational((36_000 * 25) + frame, 25), found.Facts.StartSeconds);
        Assert.Equal(Seen(source.Path).AsSpan(frame * 192).ToArray(), Seen(found.Path));
        Assert.Equal("0.000000", Ask("ffprobe", "-v", "error", "-select_streams", "v", "-show_entries", "stream=start_time", "-of", "csv=p=0", found.Path));
    }

    [Theory]
    [InlineData(37, PictureForm.AsItIs, "h264", "it is cut inside a group of pictures")]
    [InlineData(1, PictureForm.AsItIs, "h264", "it is cut inside a group of pictures")]
    [InlineData(99, PictureForm.AsItIs, "h264", "it is cut inside a group of pictures")]
    [InlineData(50, PictureForm.H264, "h264", "another form was asked for")]
    [InlineData(13, PictureForm.Vc3, "dnxhd", "another form was asked for")]
    [InlineData(13, PictureForm.Rdd36, "prores", "another form was asked for")]
    public void Cut_inside_a_group_or_in_another_form_it_is_coded_anew_from_that_very_frame(int frame, PictureForm form, string codec, string why)
    {
        var source = PictureSource.Open(reel.Path, "reel.mov", "mov");
        var (made, found) = Make(source, Plan(source, "reel.mov", frame, form));
        Assert.Equal((false, 100L - frame, why), (made.IsCopy, made.Frames, made.Why));
        Assert.Equal((codec, new Rational((36_000 * 25) + frame, 25)), (found.Picture.Codec, found.Facts.StartSeconds!.Value));
        Assert.Empty(found.Facts.Streams);
        var (theirs, ours) = (Seen(source.Path), Seen(found.Path));
        Assert.Equal((100 - frame) * 192, ours.Length);
        for (var i = 0; i < 100 - frame; i++)
        {
            var apart = Enumerable.Range(0, 192).Average(p => Math.Abs(theirs[((frame + i) * 192) + p] - ours[(i * 192) + p]));
            Assert.True(apart < 6, $"frame {frame + i} is {apart} of 255 apart");
        }
    }

    [Fact]
    public void The_same_plan_gives_the_same_bytes_copied_or_coded()
    {
        var source = PictureSource.Open(reel.Path, "reel.mov", "mov");
        foreach (var frame in new[] { 25, 30 })
        {
            var plan = Plan(source, "reel.mov", frame);
            Assert.Equal(File.ReadAllBytes(Make(source, plan, "one").Found.Path), File.ReadAllBytes(Make(source, plan, "two").Found.Path));
        }
    }

    [Theory]
    [InlineData("reel.mp4", "24000/1001", "-c:v", "libx264", "-g", "24", "-c:a", "aac")]
    [InlineData("reel.mxf", "25", "-c:v", "mpeg2video", "-g", "1", "-c:a", "pcm_s16le")]
    [InlineData("reel.mov", "30000/1001", "-c:v", "mjpeg", "-c:a", "pcm_s24le")]
    public void Every_container_and_rate_is_cut_at_its_frame(string name, string rate, params string[] coder)
    {
        var source = PictureSource.Open(Made(_folder, name, rate, coder), name, name.EndsWith("mxf", StringComparison.Ordinal) ? "mxf" : "mov");
        var (made, found) = Make(source, Plan(source, name, 48));
        Assert.True(made.IsCopy, made.Why);
        Assert.Equal(Hashes(source.Path)[48..], Hashes(found.Path));
        Assert.Equal(source.Picture.FramesPerSecond, found.Picture.FramesPerSecond);
        Assert.Empty(found.Facts.Streams);
    }

    [Theory]
    [InlineData("mov")]
    [InlineData("mxf")]
    public void A_still_is_the_frame_that_is_asked_for(string format)
    {
        var source = PictureSource.Open(format == "mov" ? reel.Path : Made(_folder, "reel.mxf", "25", "-c:v", "mpeg2video", "-g", "12", "-c:a", "pcm_s16le"), $"reel.{format}", format);
        var seen = Seen(source.Path);
        foreach (var frame in new[] { 0, 1, 24, 25, 63, 99 })
        {
            var path = Path.Combine(_folder, "still.jpg");
            File.WriteAllBytes(path, source.Still(frame, 320));
            var still = Seen(path);
            var nearest = Enumerable.Range(0, 100).MinBy(f => Enumerable.Range(0, 192).Sum(p => Math.Abs(seen[(f * 192) + p] - still[p])));
            Assert.Equal(frame, nearest);
        }

        Assert.Throws<BadInputException>(() => source.Still(1500, 320));
    }

    [Fact]
    public void What_cannot_be_made_is_said_in_words_and_stops_when_it_is_told_to()
    {
        var source = PictureSource.Open(reel.Path, "reel.mov", "mov");
        var target = Path.Combine(_folder, "out.mov");
        File.Create(target).Dispose();
        Assert.Contains("ends before the files begin", Assert.Throws<BadInputException>(() => PictureMaker.Make(source, Plan(source, "reel.mov", 100), target, _ => { }, CancellationToken.None)).Message, StringComparison.Ordinal);
        var uneven = Path.Combine(_folder, "uneven.mov");
        Ask("ffmpeg", "-v", "error", "-y", "-i", source.Path, "-an", "-vf", "select='not(eq(mod(n,7),3))'", "-fps_mode", "vfr", uneven);
        var odd = PictureSource.Open(uneven, "uneven.mov", "mov");
        Assert.Contains("not all seen equally long", Assert.Throws<BadInputException>(() => PictureMaker.Make(odd, Plan(odd, "uneven.mov", 20), target, _ => { }, CancellationToken.None)).Message, StringComparison.Ordinal);
        Assert.True(Make(odd, Plan(odd, "uneven.mov", 0)).Made.IsCopy);
        Assert.Throws<OperationCanceledException>(() => PictureMaker.Make(source, Plan(source, "reel.mov", 3), target, _ => { }, new CancellationToken(true)));
    }

    [Fact]
    public void A_program_that_makes_a_file_writes_that_one_and_no_other()
    {
        var (own, other, inside) = (Path.Combine(_folder, "own"), Path.Combine(_folder, "other"), Path.Combine(_folder, "new"));
        File.WriteAllText(own, "before");
        File.WriteAllText(other, "before");
        using var run = Process.Start(new ProcessStartInfo("dotnet", [typeof(Decoder.DecoderQuestion).Assembly.Location, "make", own, "/usr/bin/python3", "-c", $$"""
            import os, socket
            def tries(what):
                try:
                    what(); return "possible"
                except OSError:
                    return "refused"
            print(tries(lambda: open("{{own}}", "w").write("after")), tries(lambda: open("{{other}}", "w")), tries(lambda: open("{{inside}}", "w")), tries(lambda: open("{{other}}", "r+")), tries(lambda: os.open("{{other}}", os.O_RDONLY | os.O_TRUNC)))
            print(tries(lambda: os.remove("{{own}}")), tries(lambda: os.rename("{{own}}", "{{inside}}")), tries(lambda: os.truncate("{{other}}", 0)), tries(lambda: os.mkdir("{{inside}}")), tries(lambda: socket.socket()), tries(lambda: os.fork()))
            """]) { RedirectStandardOutput = true })!;
        Assert.Equal(["possible refused refused refused refused", "refused refused refused refused refused refused"], run.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.Equal(("after", "before", false), (File.ReadAllText(own), File.ReadAllText(other), File.Exists(inside)));
    }
}
