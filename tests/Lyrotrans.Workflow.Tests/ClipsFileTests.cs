using Lyrotrans.Audio.Decoding;
using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.ClipFormats;
using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The demo's tracks as clips in an AAF file, by every choice: the proof passes, the checker finds nothing, and it sounds as the session does.</summary>
public sealed partial class ClipsFileTests(DemoSession demo) : IDisposable
{
    private static readonly Dictionary<string, ClipChoices> s_choices = new()
    {
        ["embedded"] = Choose.Aaf with { MonoOnly = false },
        ["embedded samples"] = Choose.Aaf with { Media = ClipMediaForm.InsideSamples },
        ["linked"] = Choose.Aaf with { Media = ClipMediaForm.BesideWave, MonoOnly = false },
        ["linked AIFF"] = Choose.Aaf with { Media = ClipMediaForm.BesideAiff, Trimmed = true, Handle = 100 },
        ["trimmed, 1 s"] = Choose.Aaf with { Trimmed = true, Handle = 1000 },
        ["trimmed, 12 frames"] = Choose.Aaf with { Trimmed = true, Handle = 12, HandleUnit = HandleUnit.Frames, MonoOnly = false },
        ["no handles"] = Choose.Aaf with { Trimmed = true, Handle = 0, HandleUnit = HandleUnit.Samples },
        ["512"] = Choose.Aaf.With("sectors", "512") with { Trimmed = true },
        ["frames"] = Choose.Aaf with { FrameUnits = true, Trimmed = true },
        ["frames, whole"] = Choose.Aaf with { FrameUnits = true },
        ["fades as properties"] = Choose.Aaf with { Fades = FadeForm.Properties },
        ["all printed"] = Choose.Aaf with { Fades = FadeForm.Rendered, RenderGain = true, Volume = VolumeForm.Rendered, Trimmed = true },
        ["fades printed"] = Choose.Aaf with { Fades = FadeForm.Rendered },
        ["pan split"] = Choose.Aaf with { Pan = PanForm.Split },
        ["OMF"] = Choose.Omf with { MonoOnly = false },
        ["OMF, beside"] = Choose.Omf with { Media = ClipMediaForm.BesideWave, Trimmed = true },
        ["OMF, AIFF, 16 bits"] = Choose.Omf with { Media = ClipMediaForm.InsideAiff, Depth = ClipDepth.Integer16, Trimmed = true },
        ["OMF, frames"] = Choose.Omf with { FrameUnits = true, Trimmed = true, Fades = FadeForm.Properties },
        ["OMF, all printed"] = Choose.Omf with { Fades = FadeForm.Rendered, RenderGain = true, Volume = VolumeForm.Rendered, Trimmed = true },
        ["OMF, pan split"] = Choose.Omf with { Pan = PanForm.Split },
        ["OTIO"] = Choose.Otio with { MonoOnly = false },
        ["OTIO, trimmed"] = Choose.Otio with { Media = ClipMediaForm.BesideAiff, Trimmed = true },
        ["OTIO, frames"] = Choose.Otio with { FrameUnits = true },
        ["after tracks"] = Choose.Aaf with { NamedAfterTracks = true, MonoOnly = false },
        ["trimmed, after tracks"] = Choose.Aaf with { NamedAfterTracks = true, Trimmed = true, Media = ClipMediaForm.BesideWave },
        ["OMF, after tracks"] = Choose.Omf with { NamedAfterTracks = true, Fades = FadeForm.Rendered, Trimmed = true },
        ["OTIO, after tracks"] = Choose.Otio with { NamedAfterTracks = true, FrameUnits = true, Trimmed = true },
        ["left out"] = Choose.Aaf with { Pan = PanForm.LeftOut, Volume = VolumeForm.LeftOut },
    };

    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-clips-").FullName;

    public static TheoryData<string> Choices => new(s_choices.Keys);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private DeliveryPlan Plan(ClipChoices choices, LoadedSession? loaded = null) => demo.Plan(
        p => p with { Clips = choices, Tracks = p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t).ToValueArray() }, loaded);

    private string Unpack(string zip)
    {
        var folder = Path.Combine(_folder, Path.GetFileNameWithoutExtension(zip));
        ZipFile.ExtractToDirectory(zip, folder);
        return Directory.EnumerateFiles(folder, "*.*", SearchOption.AllDirectories).Single(f => SessionConvert.IsClips(f));
    }

    [Theory]
    [InlineData("after tracks")]
    [InlineData("trimmed, after tracks")]
    [InlineData("OMF, after tracks")]
    [InlineData("OTIO, after tracks")]
    public void File_clip_and_track_agree_where_clips_are_called_after_their_tracks(string name)
    {
        var plan = Plan(s_choices[name]).Clips!;
        var media = plan.Media.ToDictionary(m => m.Media.Id);
        var first = new HashSet<string>();
        foreach (var (track, clip) in plan.Session.Tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Select(c => (t, c))))
        {
            var medium = media[clip.Media];
            Assert.Equal(clip.Name, Path.GetFileNameWithoutExtension(medium.Media.FileName));
            if (first.Add(medium.Media.Id) && !medium.IsMissing)
            {
                Assert.Matches($"^{System.Text.RegularExpressions.Regex.Escape(Core.Naming.LegalName.From(track.Name.Replace('.', '_')))}_[0-9]{{2,}}$", clip.Name);
            }
        }

        Assert.Equal(plan.Media.Count, plan.Media.Select(m => m.Media.FileName.ToUpperInvariant()).Distinct().Count());

        // What is missing keeps its name: the receiver may have it.
        var gone = demo.Loaded with { Session = demo.Loaded.Session with { Media = [.. demo.Loaded.Session.Media.Select(m => m.FileName.EndsWith("cello.wav", StringComparison.Ordinal) ? m with { Place = MediaPlace.Missing } : m)] } };
        Assert.Contains(Plan(s_choices["after tracks"], gone).Clips!.Media, m => m.IsMissing && m.Media.FileName == "cello.wav");
    }

    [Theory]
    [MemberData(nameof(Choices))]
    public void Its_proof_passes_and_the_checker_finds_nothing(string name)
    {
        var plan = Plan(s_choices[name]);
        Assert.Equal(0, CarryPlan.Of(plan).LostWithoutAWord);
        var zip = demo.Build(plan);
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.All(report.Clips, c => Assert.Equal(0, c.Offset));
        Assert.NotEmpty(report.Clips);
        var path = Unpack(zip);
        var (code, output, errors) = OtherProgram.Run("/usr/bin/python3", s_choices[name].Format.Id switch
        {
            "OMF" => [OtherProgram.Script("omf_check.py"), path],
            "OTIO" => [OtherProgram.Script("otio_check.py"), OtherProgram.Script("otio.schema.json"), path],
            _ => [OtherProgram.Script("aaf_check.py"), OtherProgram.Model, path],
        });

        // What it would be too large by is known before it is built: never more than was said.
        if (s_choices[name].Format == Choose.Omf.Format)
        {
            Assert.InRange(new FileInfo(path).Length, 1, plan.Files.Single(f => f.Kind == PlannedKind.ClipFile).Bytes);
        }

        Assert.True(code == 0, Encoding.UTF8.GetString(output) + errors);
    }

    [Theory]
    [InlineData("embedded")]
    [InlineData("embedded samples")]
    [InlineData("linked")]
    [InlineData("linked AIFF")]
    [InlineData("trimmed, 1 s")]
    [InlineData("no handles")]
    [InlineData("512")]
    [InlineData("all printed")]
    [InlineData("fades printed")]
    [InlineData("OMF, all printed")]
    [InlineData("OTIO")]
    [InlineData("OTIO, trimmed")]
    public void It_sounds_as_the_session_does(string name)
    {
        var choices = s_choices[name];
        var plan = Plan(choices);
        var loaded = SessionLoader.Load(Unpack(demo.Build(plan)), Path.Combine(_folder, "scratch"));
        Assert.DoesNotContain(loaded.Session.Media, m => m.Place == MediaPlace.Missing && plan.Clips!.Media.Any(c => !c.IsMissing && c.Media.FileName == m.FileName));
        var meantMedia = new MediaOpener(demo.Loaded.Media, plan.Session.Rate);
        var foundMedia = new MediaOpener(loaded.Media, plan.Session.Rate);
        foreach (var (id, became) in plan.Clips!.Tracks)
        {
            var track = plan.Session.Tracks.First(t => t.Id == id);
            var found = became.Select(b => loaded.Session.Tracks.First(t => t.Id == b)).ToList();
            var worst = Residual(plan.Session, track, meantMedia, loaded.Session, found, foundMedia, choices.Volume == VolumeForm.Rendered);

            // 24 bits of what was rendered, nothing at all where sound was only moved, and the stated error of a shape that goes by points: a twentieth of a dB of full scale.
            var rendered = choices.Volume == VolumeForm.Rendered || choices.Fades == FadeForm.Rendered || track.Sounding!.Clips.Any(c => plan.Session.Media.First(m => m.Id == c.Media).Rate != plan.Session.Rate);
            var pointed = choices.Fades != FadeForm.Rendered && track.Sounding!.Clips.Any(c => c.FadeIn.Shape == FadeShape.Exponential || c.FadeOut.Shape == FadeShape.Exponential);
            var bound = pointed ? Decibels.ToRatio(0.05) - 1 : rendered ? 2.0 / (1 << 23) : 1e-7;
            Assert.True(worst <= bound, $"{track.Name}: {Decibels.FromRatio(worst):0.0} dBFS");
        }
    }

    private static double Residual(Session session, Track track, IMediaOpener media, Session other, List<Track> found, IMediaOpener otherMedia, bool ridden)
    {
        const int Block = 8192;
        var channels = track.Channels;
        using var meant = new TrackRender(session, track, media);
        var renders = found.Select(t => new TrackRender(other, t, otherMedia)).ToList();
        var a = Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();
        var b = Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();
        var worst = 0.0;
        for (long at = 0; at < session.EndSample; at += Block)
        {
            meant.Read(at, Block, a);
            for (var r = 0; r < renders.Count; r++)
            {
                renders[r].Read(at, Block, renders.Count == 1 ? b : [b[r]]);
            }

            for (var c = 0; c < channels; c++)
            {
                for (var i = 0; i < Block; i++)
                {
                    var ride = ridden ? Decibels.ToRatio(track.FaderDb + (track.FaderAutomation?.ValueAt(at + i) ?? 0)) : 1;
                    worst = Math.Max(worst, Math.Abs(Math.Clamp(a[c][i] * ride, -1, 1) - Math.Clamp(b[c][i], -1, 1)));
                }
            }
        }

        renders.ForEach(r => r.Dispose());
        return worst;
    }

    [Theory]
    [InlineData("29.97", true)]
    [InlineData("29.97 drop", false)]
    [InlineData("23.976", true)]
    [InlineData("59.94", false)]
    public void Frames_that_are_no_whole_samples_keep_every_clip(string frames, bool trimmed)
    {
        Assert.True(FrameRate.TryFromName(frames, out var rate));
        var session = demo.Loaded.Session;
        var loaded = demo.Loaded with { Session = session with { Start = new Timecode(session.Start.Frames, rate), Picture = null } };
        var plan = Plan(Choose.Aaf with { FrameUnits = true, Trimmed = trimmed, Handle = 500 }, loaded);
        var report = demo.Prove(demo.Build(plan, loaded), plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.All(report.Clips, c => Assert.Equal(0, c.Offset));
    }

    [Fact]
    public void Sound_inside_opens_in_another_library()
    {
        var plan = Plan(Choose.Aaf with { Trimmed = true, MonoOnly = false });
        using var stream = File.OpenRead(Unpack(demo.Build(plan)));
        var document = AafDocument.Open(stream, "x.aaf");
        var media = document.Read().Media.Values.Where(m => m.How == "embedded-wave").ToList();
        Assert.NotEmpty(media);
        foreach (var medium in media)
        {
            var path = Path.Combine(_folder, "inside.wav");
            using (var output = File.Create(path))
            using (var essence = document.OpenEssence(medium.Id)!)
            {
                essence.CopyTo(output);
            }

            // libsndfile.
            using var sound = CodedSource.Open(path, medium.FileName);
            Assert.Equal((medium.Channels, medium.Length, medium.Rate), (sound.Channels, sound.Length, sound.Rate));
        }
    }

    [Fact]
    public void The_same_session_and_choices_give_the_same_bytes_whenever_it_is_built()
    {
        var plan = Plan(Choose.Aaf with { Trimmed = true });
        var first = Path.Combine(_folder, "a.zip");
        var second = Path.Combine(_folder, "b.zip");
        PackageFile.Build(plan, demo.Loaded.Media, first, DemoSession.Maker, _ => { }, CancellationToken.None);
        PackageFile.Build(Plan(Choose.Aaf with { Trimmed = true }), demo.Loaded.Media, second, DemoSession.Maker with { Made = DemoSession.Stamp.AddDays(3) }, _ => { }, CancellationToken.None);
        Assert.Equal(File.ReadAllBytes(Unpack(first)), File.ReadAllBytes(Unpack(second)));
    }

    [Fact]
    public void Sound_that_nothing_is_done_to_goes_byte_for_byte()
    {
        var plan = Plan(Choose.Aaf with { Media = ClipMediaForm.BesideWave, MonoOnly = false });
        var media = Path.Combine(Path.GetDirectoryName(Unpack(demo.Build(plan)))!, "media");
        var cello = plan.Clips!.Media.First(m => m.Media.FileName.Contains("ello", StringComparison.Ordinal));
        var source = plan.Session.Media.First(m => m.Id == cello.Sound.Sounding!.Clips[0].Media);
        Assert.Equal(Samples(demo.Loaded.Media.FileOf(source)!), Samples(new DiskFile(Path.Combine(media, cello.Media.FileName))));
    }

    private static byte[] Samples(IStoredFile sound)
    {
        using var file = SoundFile.Open(sound, "sound");
        var layout = file.Header!.Layout;
        using var stream = sound.Open();
        stream.Position = layout.DataOffset;
        var bytes = new byte[layout.DataBytes];
        stream.ReadExactly(bytes);
        return bytes;
    }

    [Fact]
    public void The_sheet_says_what_to_do_with_it_and_every_column_of_the_carry_plan()
    {
        var plan = Plan(Choose.Aaf with { FrameUnits = true });
        var folder = Path.GetDirectoryName(Unpack(demo.Build(plan)))!;
        var sheet = File.ReadAllText(Path.Combine(folder, "Session_sheet.html"));
        Assert.Contains($"<b>Open or import {plan.Root}.aaf.</b>", sheet, StringComparison.Ordinal);
        Assert.Contains("<th class=n>in AAF", sheet, StringComparison.Ordinal);
        Assert.Contains("they move to whole frames", sheet, StringComparison.Ordinal);
        Assert.DoesNotContain("files in audio", sheet, StringComparison.Ordinal);
        var carry = CarryPlan.Of(plan);
        var row = carry.Rows.First(r => r.Kind == "Clip positions");
        var cells = carry.Columns.Select((_, c) => $"<td class=n>{row.Count(c, Fate.Carried) + row.Count(c, Fate.Converted)}");
        Assert.Equal(["AAF", "MIDI", "marker list", "record"], carry.Columns);
        Assert.Contains($"<tr><td>Clip positions<td class=n>{row.Objects.Count}{string.Concat(cells)}", sheet, StringComparison.Ordinal);
    }

    [Fact]
    public void Short_handles_are_listed_with_what_is_missing()
    {
        var plan = Plan(Choose.Aaf with { Trimmed = true, Handle = 60_000 });
        Assert.NotEmpty(plan.Clips!.Shortfalls);
        Assert.All(plan.Clips.Shortfalls, s => Assert.InRange(s.Has, 0, s.Wanted - 1));
        Assert.Equal(60 * 48_000, plan.Clips.Shortfalls[0].Wanted);
    }

    [Fact]
    public void What_gives_way_is_said_with_its_amount()
    {
        Assert.Contains(Plan(Choose.Aaf with { FrameUnits = true }).Clips!.Notes, n => n.Contains("whole frames", StringComparison.Ordinal) && n.Any(char.IsDigit));
        Assert.Contains(Plan(Choose.Aaf).Clips!.Notes, n => n.Contains("44100", StringComparison.Ordinal) && n.Contains("converted", StringComparison.Ordinal));
        Assert.Contains(Plan(Choose.Aaf with { Fades = FadeForm.Properties }).Clips!.Notes, n => n.Contains("nearer of the two shapes", StringComparison.Ordinal) && n.Contains("dB", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("one clip moved by a sample")]
    [InlineData("one gain changed")]
    [InlineData("one sample changed")]
    public void A_changed_file_fails_its_proof(string what)
    {
        var plan = Plan(Choose.Aaf with { Media = ClipMediaForm.InsideWave });
        var zip = PackageTamper.With(demo.Build(plan), ".aaf", bytes => Changed(bytes, what));
        var report = demo.Prove(zip, plan);
        Assert.False(report.Passed);
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject.StartsWith("AAF", StringComparison.Ordinal));
    }

    private static byte[] Changed(byte[] bytes, string what)
    {
        var changed = (byte[])bytes.Clone();
        if (what == "one sample changed")
        {
            changed[^5000] ^= 1;
            return changed;
        }

        // A start time (pid 1201) or a ratio of an indirect value lies in a properties stream that names it.
        var pid = what == "one clip moved by a sample" ? new byte[] { 0x01, 0x12, 0x82, 0x00, 0x08, 0x00 } : [0x01, 0x4D, 0x82, 0x00, 0x19, 0x00];
        var at = changed.AsSpan().IndexOf(pid);
        Assert.True(at > 0);
        var head = changed.AsSpan(0, at).LastIndexOf(new byte[] { 0x4C, 0x20 });
        var value = head + 4 + (BitConverter.ToUInt16(changed, head + 2) * 6);
        for (var entry = head + 4; entry < at; entry += 6)
        {
            value += BitConverter.ToUInt16(changed, entry + 4);
        }

        changed[what == "one clip moved by a sample" ? value : value + 19] += 1;
        return changed;
    }

    [Fact]
    public void An_OTIO_file_that_says_anything_twice_is_seen_and_breaks_nothing()
    {
        var plan = demo.Plan(p => p with { Clips = Choose.Otio with { Media = ClipMediaForm.BesideWave }, Tracks = p.Tracks.Select(c => c with { Treatment = c.Treatment == Treatment.PrintDry ? Treatment.KeepClips : Treatment.HoldBack }).ToValueArray() });
        var zip = demo.Build(plan);
        Assert.True(demo.Prove(zip, plan).Passed);
        var text = PackageTamper.Read(zip, ".otio");
        var kinds = Lists(JsonNode.Parse(text)!, string.Empty).GroupBy(p => Digits().Replace(p, "n")).Select(g => g.First()).ToList();
        Assert.Contains(kinds, k => k.EndsWith(".clips", StringComparison.Ordinal));
        foreach (var kind in kinds)
        {
            var report = demo.Prove(PackageTamper.With(zip, ".otio", b => Twice(b, kind)), plan);
            Assert.False(report.Passed, kind);
        }
    }

    [System.Text.RegularExpressions.GeneratedRegex(@"\d+")]
    private static partial System.Text.RegularExpressions.Regex Digits();

    // Of every kind of list that holds objects, where one lies.
    private static IEnumerable<string> Lists(JsonNode node, string path) => node switch
    {
        JsonObject o => o.Where(p => p.Value is not null).SelectMany(p => Lists(p.Value!, $"{path}.{p.Key}")),
        JsonArray { Count: > 0 } a when a[0] is JsonObject => new[] { path }.Concat(a.SelectMany((n, i) => Lists(n!, $"{path}.{i}"))),
        _ => [],
    };

    private static byte[] Twice(byte[] json, string path)
    {
        var root = JsonNode.Parse(json)!;
        var list = path.Split('.', StringSplitOptions.RemoveEmptyEntries).Aggregate(root, (node, key) => node is JsonArray a ? a[int.Parse(key, System.Globalization.CultureInfo.InvariantCulture)]! : node[key]!).AsArray();
        list.Insert(1, list[0]!.DeepClone());
        return Encoding.UTF8.GetBytes(root.ToJsonString());
    }
}
