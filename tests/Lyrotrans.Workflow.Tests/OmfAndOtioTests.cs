using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>OMF and OTIO files of others with equal contents, through to packages that pass their proof, and out again.</summary>
public sealed class OmfAndOtioTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-omf-").FullName;

    public static TheoryData<string> Omf => Names("omf");

    public static TheoryData<string> Otio => Names("otio");

    private static TheoryData<string> Names(string form) => new(Directory.EnumerateFiles(Fixtures.Path(form), $"*.{form}").Select(f => Path.GetFileNameWithoutExtension(f)).Order());

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Theory]
    [MemberData(nameof(Omf))]
    public void The_contents_of_an_OMF_file_are_equal(string name) =>
        Assert.Empty(ContentsCompared.Differences(Fixtures.Path($"omf/{name}.omf"), Fixtures.Path($"omf/{name}.json")));

    [Theory]
    [MemberData(nameof(Otio))]
    public void The_contents_of_an_OTIO_file_are_equal(string name) =>
        Assert.Empty(ContentsCompared.Differences(Fixtures.Path($"otio/{name}.otio"), Fixtures.Path($"otio/{name}.otio.expected.json")));

    [Theory]
    [MemberData(nameof(Omf))]
    public void Files_from_zero_of_it_pass_their_proof(string name) => FromZero.Passes(Fixtures.Path($"omf/{name}.omf"), _folder);

    public static TheoryData<string, string> Conversions
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var form in new[] { "aaf", "omf", "otio" })
            {
                foreach (var file in Directory.EnumerateFiles(Fixtures.Path(form), $"*.{form}").Order())
                {
                    data.Add($"{form}/{Path.GetFileName(file)}", "again.omf");
                    data.Add($"{form}/{Path.GetFileName(file)}", "again.otio");
                }
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Conversions))]
    public void Every_session_of_others_goes_out_and_passes_its_proof(string name, string output)
    {
        var path = Path.Combine(_folder, output);
        var loaded = SessionLoader.Load(Fixtures.Path(name), Path.Combine(_folder, "scratch"));
        SessionConvert.Write(loaded, SessionConvert.Prepared(loaded, path, null, string.Empty), path, DemoSession.Maker, CancellationToken.None);
        var missing = loaded.Session.Media.Where(m => m.Place == MediaPlace.Missing).Select(m => $"missing {m.FileName}").ToList();
        var report = FileProof.Prove(path, loaded, Path.Combine(_folder, "scratch"), _ => { }, CancellationToken.None, accepted: missing);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(5)));
        var first = File.ReadAllBytes(path);
        SessionConvert.Write(loaded, SessionConvert.Prepared(loaded, path, null, string.Empty), path, DemoSession.Maker, CancellationToken.None);
        Assert.Equal(first, File.ReadAllBytes(path));
    }

    private static Session Long(int tracks, long samples) => new()
    {
        Name = "Čembalo",
        Rate = Core.Time.SampleRate.Hz48000,
        Depth = SampleEncoding.Integer24,
        Start = new Core.Time.Timecode(0, Core.Time.FrameRate.Fps25),
        Media = Enumerable.Range(1, tracks).Select(i => new Media { Id = $"m{i}", FileName = $"m{i}.wav", Channels = 1, Length = samples, Encoding = SampleEncoding.Integer24, Place = MediaPlace.Beside }).ToValueArray(),
        Tracks = Enumerable.Range(1, tracks).Select(i => new Track
        {
            Id = $"t{i}",
            Name = $"Track {i}",
            Channels = 1,
            Lanes = [new Lane("main", [new Clip { Id = $"c{i}", Name = $"m{i}", Media = $"m{i}", ChannelMap = [0], Start = i * 100L, Length = samples }])],
        }).ToValueArray(),
    };

    private static DeliveryPlan Plan(Session session, ClipChoices choices)
    {
        var preparation = Preparation.Default(session, choices.Format) with { Clips = choices };
        return DeliveryPlan.Make(session, preparation with { Tracks = PreparationTreatment.OfAudio(preparation, session, Treatment.KeepClips) }, new Dictionary<string, MediaSound>());
    }

    [Fact]
    public void The_size_of_an_OMF_file_is_known_before_it_is_built()
    {
        // An hour on ten tracks of 24 bits.
        var session = Long(10, 48_000L * 3600);
        var omf = Choose.Omf;
        var plan = Plan(session, omf);
        Assert.Contains("5.18 GB, and 2.15 GB is the most", plan.Problem!, StringComparison.Ordinal);
        var refused = Assert.Throws<BadInputException>(() => PackageBuilder.Build(plan, new MappedMedia(new Dictionary<string, string>(), _folder), Stream.Null, DemoSession.Maker, _ => { }, CancellationToken.None));
        Assert.Equal((BuildCodes.NotPossible, plan.Problem), (refused.Code, refused.Problem));
        Assert.Null(Plan(session, omf with { Media = ClipMediaForm.BesideWave }).Problem);

        var split = Plan(session, omf.With("overLimit", "split by tracks"));
        Assert.Null(split.Problem);
        Assert.Equal(3, split.ClipFiles.Count);
        Assert.Equal(split.Clips!.Session.Tracks.Select(t => t.Name), split.ClipFiles.SelectMany(f => f.Session.Tracks).Select(t => t.Name));
        Assert.All(split.ClipFiles, f => Assert.Equal(split.Clips.Session.Start, f.Session.Start));
        Assert.All(split.Files.Where(f => f.Kind == PlannedKind.ClipFile), f => Assert.InRange(f.Bytes, 1, int.MaxValue));
        Assert.Equal(2, Plan(session, omf.With("overLimit", "split by tracks").With("limit", "4 GiB")).ClipFiles.Count);
        Assert.Equal(2, Plan(session, omf.With("overLimit", "split by tracks") with { Depth = ClipDepth.Integer16 }).ClipFiles.Count);
        Assert.Contains("one track alone", Plan(Long(2, 48_000L * 3600 * 6), omf.With("overLimit", "split by tracks")).Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void Notes_and_buses_go_with_an_OTIO_whatever_they_are_called()
    {
        var made = Long(1, 48_000);
        var session = made with
        {
            Tracks = [.. made.Tracks, new Track { Id = "track-1", Name = "Harp", Kind = TrackKind.Notes, Output = "bus", Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 4, Notes = [new Note(0, 10, 1, 60, 64)] }] }, new Track { Id = "bus", Name = "Strings", Kind = TrackKind.Bus, Channels = 2 }],
        };
        var plan = Plan(session, Choose.Otio).Clips!.Session;
        Assert.Equal([("track-1", TrackKind.Audio), ("track-1-kept", TrackKind.Notes), ("bus", TrackKind.Bus)], plan.Tracks.Select(t => (t.Id, t.Kind)));
        Assert.Equal("bus", plan.Tracks[1].Output);
        Assert.Empty(SessionRules.Check(plan));
    }

    [Fact]
    public void Several_files_by_tracks_hold_the_session_together()
    {
        // Small media, and a limit reached by their number: the plan is split where it would be for gigabytes.
        var loaded = SessionLoader.Load(Fixtures.Path("omf/v2-little-toc1.omf"), Path.Combine(_folder, "scratch"));
        var choices = Choose.Omf.With("overLimit", "split by tracks");
        var whole = Plan(loaded.Session, choices).Clips!;
        var parts = ClipParts.Of(whole, choices, ClipParts.Bytes(whole, choices) - 1);
        Assert.Equal(2, parts.Count);
        Assert.Equal(whole.Session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => (c.Name, c.Start, c.Length, c.SourceOffset)), parts.SelectMany(p => p.Session.Tracks).SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => (c.Name, c.Start, c.Length, c.SourceOffset)));
        Assert.All(parts, p => Assert.Equal("track-1", Assert.Single(p.Session.Tracks).Id));
        Assert.All(parts, p => Assert.Single(p.Media));
    }

    [Fact]
    public void Names_beyond_ASCII_are_replaced_and_said()
    {
        var plan = Plan(Long(1, 48_000), Choose.Omf);
        Assert.Equal("Cembalo", plan.Clips!.Session.Name);
        Assert.Contains(plan.Clips.Notes, n => n.Contains("\"Čembalo\" goes as \"Cembalo\"", StringComparison.Ordinal));
        Assert.Equal("Strasse oe __ ao", AsciiText.Of("Straße œ 鐘\U0001F514 åö"));
    }

    [Fact]
    public void Stereo_media_of_an_OTIO_file_sound_on_both_sides()
    {
        var wave = Path.Combine(_folder, "pair.wav");
        var layout = new PcmLayout(SampleEncoding.Integer16, false, 2, Core.Time.SampleRate.Hz48000, 0, 480_000);
        File.WriteAllBytes(wave, [.. Lyrotrans.Formats.Wave.WaveWriter.Head(layout), .. new byte[layout.DataBytes]]);
        var text = File.ReadAllText(Fixtures.Path("otio/linked.otio")).Replace("narrator-01.wav", "pair.wav", StringComparison.Ordinal);
        var path = Path.Combine(_folder, "x.otio");
        File.WriteAllText(path, text);
        var loaded = SessionLoader.Load(path, Path.Combine(_folder, "scratch"));
        var narrator = loaded.Session.Tracks.First(t => t.Name == "Narrator");
        Assert.Equal(2, narrator.Channels);
        Assert.All(narrator.Lanes[0].Clips, c => Assert.Equal(2, c.ChannelMap.Count));
        Assert.Equal(1, loaded.Session.Tracks.First(t => t.Name == "Horn close").Channels);
    }

    [Fact]
    public void Sound_inside_an_OMF_file_comes_out_of_it()
    {
        var path = Fixtures.Path("omf/v1-little.omf");
        using var stream = File.OpenRead(path);
        Assert.Equal("OMF", ContentSniffer.FormatOf(stream)!.Id);
        using var held = EmbeddedMedia.Open(new DiskFile(path), "a/suite.omf");
        var inside = held.Extract(_folder, CancellationToken.None).ToList();
        Assert.Equal(["a/suite.omf media/cello.wav", "a/suite.omf media/horn-close.wav"], inside.Select(i => i.Names[0]).Order());
        Assert.All(inside, i => Assert.True(new FileInfo(i.Path).Length > 44));
    }

    [Fact]
    public void What_ends_with_half_a_label_is_refused_by_name()
    {
        var path = Path.Combine(_folder, "cut.omf");
        File.WriteAllBytes(path, File.ReadAllBytes(Fixtures.Path("omf/v2-linked.omf"))[..^9]);
        Assert.Contains("cut.omf", Assert.Throws<BadInputException>(() => SessionLoader.Load(path, _folder)).Message, StringComparison.Ordinal);
    }
}
