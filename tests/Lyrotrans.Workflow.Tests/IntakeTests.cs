using System.IO.Compression;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

public sealed class IntakeTests(DemoSession demo)
{
    private string Put(string name, byte[] bytes)
    {
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}-{name}");
        File.WriteAllBytes(path, bytes);
        return path;
    }

    private static byte[] Wave(int frames, long? stamp = null, int rate = 48_000)
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, 1, SampleRate.FromHz(rate), 0, frames);
        return [.. WaveWriter.Head(layout, stamp is { } s ? new BroadcastExtension("d", "o", s) : null), .. new byte[layout.DataBytes + (layout.DataBytes & 1)]];
    }

    private IntakeItem Examine(string name, byte[] bytes) => Examiner.Examine(new DiskFile(Put(name, bytes)), name, new string('a', 64));

    [Fact]
    public void An_intake_of_before_keeps_its_texts_and_says_that_they_had_no_code()
    {
        var sound = Examine("none.wav", Wave(0));
        var json = System.Text.Json.Nodes.JsonNode.Parse(new IntakeState { Items = [sound] }.ToJson())!;
        json["Version"] = 2;
        json["Items"]![0]!["Findings"] = new System.Text.Json.Nodes.JsonArray("It holds no sound: 0 samples.");
        json["Items"]![0]!["Sound"]!["Findings"] = new System.Text.Json.Nodes.JsonArray("Cut.");
        json["Items"]![0]!["Error"] = "none.wav: It is damaged.";
        var item = Assert.Single(IntakeState.FromJson(System.Text.Encoding.UTF8.GetBytes(json.ToJsonString())).Items);
        Assert.Equal(new Finding(IntakeCodes.Earlier, string.Empty, "It holds no sound: 0 samples."), Assert.Single(item.Findings));
        Assert.Equal(new Finding(IntakeCodes.Earlier, string.Empty, "Cut."), Assert.Single(item.Sound!.Findings));
        Assert.Equal(new Finding(IntakeCodes.Earlier, string.Empty, "none.wav: It is damaged."), item.Error);
    }

    [Fact]
    public void Findings_are_kept_with_their_code_and_place()
    {
        var sound = Examine("none.wav", Wave(0));
        Assert.Equal(sound.Findings, Assert.Single(IntakeState.FromJson(new IntakeState { Items = [sound] }.ToJson()).Items).Findings);
    }

    [Fact]
    public void Files_are_what_they_hold_and_not_what_they_are_called()
    {
        Assert.Equal(ContentKind.Wave, Examine("notes.mid", Wave(10)).Kind);
        Assert.Equal(FileCodes.WrongName, Examine("tone.wav", "hello, this is text"u8.ToArray()).Error?.Code);
        Assert.Equal(FileCodes.UnknownContent, Examine("tone.txt", "hello, this is text"u8.ToArray()).Error?.Code);
        Assert.Equal(FileCodes.Empty, Examine("tone.wav", []).Error?.Code);
        Assert.Equal(CompoundCodes.BadHeader, Examine("session.aaf", [0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, 0, 0, 0, 0]).Error?.Code);
        Assert.Equal(IntakeCodes.NoSound, Assert.Single(Examine("none.wav", Wave(0)).Findings).Code);
        Assert.Equal(SoundCodes.ChunkCut, Examine("cut.wav", Wave(10)[..20]).Error?.Code);
        Assert.Equal(MidiCodes.NotMidi, Examine("cut.mid", "MThd\0\0"u8.ToArray()).Error?.Code);
        Assert.Equal(DocumentCodes.NewerVersion, Examine("s.json", "{\"lyrotransSession\": 99}"u8.ToArray()).Error?.Code);
    }

    [Fact]
    public void A_cut_sound_file_is_taken_with_a_finding()
    {
        var item = Examine("short.wav", Wave(1000)[..2000]);
        Assert.Null(item.Error);
        Assert.Contains("what is there was taken", Assert.Single(item.Findings).Text);
    }

    private static IntakeItem Sound(string name, long frames, long? stamp, Placement? placement = null, string rate = "48000") => new()
    {
        Id = name,
        Name = name,
        Sha256 = name,
        Kind = ContentKind.Wave,
        Placement = placement ?? new Placement(),
        Sound = new SoundFileFacts("WAVE", SampleEncoding.Integer24, 1, rate, frames, stamp, []),
    };

    private static JoinedSession Join(params IntakeItem[] items) => SessionJoin.Join(new IntakeState { SessionName = "S", Items = items }, _ => throw new InvalidOperationException());

    [Fact]
    public void Stamped_files_lie_by_their_stamp_others_at_the_start_and_typed_ones_where_typed()
    {
        var joined = Join(
            Sound("a.wav", 100, 1_728_000_000), Sound("b.wav", 100, 1_728_048_001), Sound("c.wav", 100, null),
            Sound("d.wav", 100, 1_728_000_000, new Placement(PlacementRule.Offset, 777)), Sound("e.wav", 44_100, 1_587_600_000 + 44_100, null, "44100"));
        Assert.Equal("10:00:00:00", joined.Session.Start.ToString());
        Assert.Equal([0, 48_001, 0, 777, 48_000], joined.Session.Tracks.Select(t => t.Lanes[0].Clips[0].Start));
        Assert.Equal(48_000, joined.Session.Tracks[4].Lanes[0].Clips[0].Length);
        Assert.Contains("no time stamp", joined.Placed["c.wav"].Reason);
        Assert.Empty(SessionRules.Check(joined.Session));
    }

    [Fact]
    public void A_rate_in_doubt_is_said_and_a_declared_one_holds()
    {
        var items = new[] { Sound("a.wav", 480_000, null), Sound("b.wav", 480_000, null), Sound("c.wav", 480_000, null, null, "44100") };
        var joined = Join(items);
        var doubt = Assert.Single(joined.RateDoubts);
        Assert.Equal(("c.wav", SampleRate.Hz48000), (doubt.Sound.Name, doubt.Likely));
        Assert.Equal(522_449, joined.Session.Tracks[2].Lanes[0].Clips[0].Length);

        var declared = Join(items[0], items[1], items[2] with { DeclaredRate = "48000" });
        Assert.Empty(declared.RateDoubts);
        Assert.Equal((SampleRate.Hz48000, 480_000L), (declared.Session.Media[2].Rate, declared.Session.Tracks[2].Lanes[0].Clips[0].Length));

        var kept = Join(items[0], items[1], items[2] with { DeclaredRate = "44100" });
        Assert.Empty(kept.RateDoubts);
        Assert.Equal(joined.Session with { Media = [.. joined.Session.Media.Select(m => m with { RateDeclared = m.FileName == "c.wav" })] }, kept.Session);
        var again = IntakeState.FromJson(new IntakeState { Items = [items[2] with { DeclaredRate = "48000000/1001" }] }.ToJson());
        Assert.Equal(47_952, again.Items[0].AsDeclared().Sound!.SampleRate.HeaderHz);
    }

    [Fact]
    public void A_folder_with_a_lying_header_says_so_and_a_declared_rate_prints_every_sample()
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, $"{Guid.NewGuid():N}")).FullName;
        var dice = new Random(5);
        foreach (var (name, rate) in new[] { ("a.wav", 48_000), ("b.wav", 48_000), ("c.wav", 44_100) })
        {
            var bytes = Wave(96_000, rate: rate);
            dice.NextBytes(bytes.AsSpan(^(96_000 * 3)..));
            File.WriteAllBytes(Path.Combine(folder, name), bytes);
        }

        var loaded = SessionLoader.Load(folder, Path.Combine(demo.Folder, "scratch"));
        Assert.Contains(loaded.Findings, f => f.Text.StartsWith("c.wav may be 48", StringComparison.Ordinal));

        // As it is declared by hand at Intake: the session says 48 kHz, the file on disk still says 44.1.
        var session = loaded.Session with
        {
            Media = [.. loaded.Session.Media.Select(m => m with { Rate = SampleRate.Hz48000, RateDeclared = true })],
            Tracks = [.. loaded.Session.Tracks.Select(t => t with { Lanes = [t.Lanes[0] with { Clips = [t.Lanes[0].Clips[0] with { Length = 96_000 }] }] })],
        };
        var declared = loaded with { Session = session };
        var plan = demo.Plan(p => p with { Tail = 0 }, declared);
        var zip = demo.Build(plan, declared);
        Assert.True(demo.Prove(zip, plan, declared).Passed);
        using var package = PackageReader.Open(new DiskFile(zip), "p.zip");
        var print = package.Read(plan.Files.Single(f => f.TrackId == session.Tracks[2].Id).Path);
        Assert.Equal(48_000, WaveReader.Read(new MemoryStream(print), "c").Layout.Rate.HeaderHz);
        Assert.True(print.AsSpan(^(96_000 * 3)..).SequenceEqual(File.ReadAllBytes(Path.Combine(folder, "c.wav")).AsSpan(^(96_000 * 3)..)));
    }

    [Fact]
    public void A_rate_too_far_from_the_sessions_is_an_error_with_the_files_name()
    {
        var path = Put("slow.wav", Wave(100, rate: 100));
        var media = new Media { Id = "m", FileName = "slow.wav", Rate = SampleRate.FromHz(100), Encoding = SampleEncoding.Integer24, Length = 100 };
        var opener = new MediaOpener(new MappedMedia(new Dictionary<string, string> { ["m"] = path }, demo.Folder), SampleRate.Hz48000);
        Assert.Equal("slow.wav", Assert.Throws<BadInputException>(() => opener.Open(media)).File);
        using var near = opener.Open(media with { Rate = SampleRate.FromHz(750) });
        Assert.Equal((100, SampleRate.FromHz(750)), (near!.Length, near.Rate));
    }

    [Fact]
    public void The_session_starts_on_the_frame_before_the_earliest_stamp_and_nothing_lies_before_it()
    {
        var joined = Join(Sound("a.wav", 100, 1_728_000_001));
        Assert.Equal("10:00:00:00", joined.Session.Start.ToString());
        Assert.Equal(1, joined.Session.Tracks[0].Lanes[0].Clips[0].Start);
    }

    [Fact]
    public void A_document_finds_its_media_and_lists_what_is_missing()
    {
        var session = demo.Loaded.Session;
        Assert.Equal("media/choir.wav", Assert.Single(session.Media, m => m.Place == MediaPlace.Missing).FileName);
        var document = Path.Combine(demo.Folder, "session", "Orrery_Suite.session.json");
        var items = Directory.EnumerateFiles(Path.Combine(demo.Folder, "session"), "*", SearchOption.AllDirectories).Select(f => Examiner.Examine(
            new DiskFile(f), "renamed-" + Path.GetFileName(f), Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(File.ReadAllBytes(f))))).ToList();
        var joined = SessionJoin.Join(new IntakeState { Items = items }, _ => File.OpenRead(document));
        Assert.Equal("media/choir.wav", Assert.Single(joined.Missing).FileName);
        Assert.Equal("Old choir", joined.Missing[0].Tracks);
        Assert.Equal(session.Tracks.Count, joined.Session.Tracks.Count);
        Assert.All(joined.Session.Media.Where(m => m.Place == MediaPlace.Beside), m => Assert.NotNull(m.Sha256));
    }

    [Fact]
    public void The_stamped_folder_brings_tempo_meters_markers_and_pick_up()
    {
        var (document, folder) = (demo.Loaded.Session, demo.Stamped.Session);
        Assert.Equal(document.Start, folder.Start);
        Assert.Equal(document.Bar1Sample, folder.Bar1Sample);
        Assert.Equal(document.Meters, folder.Meters);
        Assert.Equal(document.Markers[0].Sample, folder.Markers[0].Sample);

        // The last marker lies between two ticks of the MIDI file; it comes back on the nearest.
        var tick = document.Clock.SampleAt(new Rational(1, 480)) - document.Bar1Sample;
        Assert.InRange(Math.Abs(document.Markers[^1].Sample - folder.Markers[^1].Sample), 1, tick);
        Assert.Equal(document.Tracks.Where(t => t.Kind == TrackKind.Notes).Sum(t => t.Parts.Where(p => !p.Muted).Sum(p => p.Notes.Count)), folder.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count)));
        foreach (var track in folder.Tracks.Where(t => t.Kind == TrackKind.Audio))
        {
            Assert.Equal(document.Tracks.Single(t => t.Id == track.Name).Sounding!.Clips[0].Start, track.Lanes[0].Clips[0].Start);
        }
    }

    [Fact]
    public async Task The_demo_raises_every_flag_there_is()
    {
        var (full, folder) = (demo.WithPicture.Session, Directory.CreateTempSubdirectory("lyro-flags-").FullName);
        var store = new MemoryMedia(Path.Combine(folder, "scratch"));
        foreach (var media in full.Media.Where(m => demo.Loaded.Media.FileOf(m) is not null))
        {
            var copy = Path.Combine(folder, Path.GetFileName(media.FileName));
            using (var local = demo.Loaded.Media.FileOf(media)!.Local())
            {
                File.Copy(local.Path, copy);
            }

            await store.TakeAsync(copy, media.Sha256!, CancellationToken.None);
        }

        SoundMeasures.EnsureAll(full, store, CancellationToken.None);
        Assert.Empty(EdgeMeasures.FromStore(full, store));
        EdgeMeasures.Ensure(full, store, CancellationToken.None);
        var all = new FlagFinder(new FlagFacts(full, Preparation.Default(full, SessionFormats.Usual))
        {
            Sounds = SoundMeasures.FromStore(full, store),
            Levels = SoundMeasures.KnownLevels(full, store),
            Faults = SoundMeasures.Faults(full, store),
            Edges = EdgeMeasures.FromStore(full, store),
        }).Flags();

        // What was planted once is found once, and where nothing was planted nothing is found.
        var planted = new[] { ("edge-step", "bass-direct 10"), ("dropout", "Double bass"), ("digital-click", "Cello"), ("edit-gap", "Guide piano"), ("doubled", "Chimes"), ("silent-channel", "array.wav"), ("dc-offset", "piano.wav"), ("clipped", "swell.wav") };
        Assert.Equal(planted.Select(p => p.Item1).Order(), all.Select(f => f.Code).Where(c => planted.Any(p => p.Item1 == c)).Order());
        Assert.All(planted, p => Assert.Contains(p.Item2, all.Single(f => f.Code == p.Item1).Title));
        Directory.Delete(folder, recursive: true);
        var found = all.Select(f => f.Code).ToHashSet();
        foreach (var code in new[]
        {
            "missing-media", "other-rate", "equal-channels", "hidden-track", "muted-track", "switched-off-track", "empty-part", "past-end", "short-handle", "same-name", "refused-name",
            "before-bar-1", "empty-end", "sound-maker", "lost-return", "spare-takes", "no-notes", "sections", "picture-sound", "printed-twice", "two-takes",
        })
        {
            Assert.Contains(code, found);
        }
    }

    [Fact]
    public void State_reads_back()
    {
        var state = new IntakeState { SessionName = "S", Start = "10:00:00:00", Items = [Sound("a.wav", 5, 9, new Placement(PlacementRule.Offset, -4))] };
        var back = IntakeState.FromJson(state.ToJson());
        Assert.Equal(state.Items[0].Placement, back.Items[0].Placement);
        Assert.Equal(state.Items[0].Sound!.TimeReference, back.Items[0].Sound!.TimeReference);
        Assert.Equal(state.ToJson(), back.ToJson());
    }

    private string Zip(params (string Name, byte[] Bytes)[] entries)
    {
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.zip");
        using var archive = ZipFile.Open(path, ZipArchiveMode.Create);
        foreach (var (name, bytes) in entries)
        {
            using var stream = archive.CreateEntry(name).Open();
            stream.Write(bytes);
        }

        return path;
    }

    private string Zip(params HandmadeZip.Entry[] entries)
    {
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.zip");
        File.WriteAllBytes(path, HandmadeZip.Of(entries));
        return path;
    }

    private IReadOnlyList<UnpackedEntry> Unpack(string zip, long room = 1 << 30)
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, Guid.NewGuid().ToString("N"))).FullName;
        return SafeUnzip.Unpack(zip, "a.zip", folder, room, CancellationToken.None);
    }

    [Fact]
    public void A_good_archive_gives_its_files_without_side_files()
    {
        var files = Unpack(Zip(("in/a.wav", Wave(10)), ("__MACOSX/in/._a.wav", [1]), (".DS_Store", [1]), ("b.mid", [2])));
        Assert.Equal(["in/a.wav", "b.mid"], files.Select(f => f.Name));
        Assert.Equal(Wave(10), File.ReadAllBytes(files[0].Path));
    }

    [Theory]
    [InlineData("../evil.wav", "climbs out")]
    [InlineData("in/../../evil.wav", "climbs out")]
    [InlineData("..\\evil.wav", "climbs out")]
    [InlineData("/etc/evil.wav", "absolute")]
    [InlineData("C:\\evil.wav", "absolute")]
    public void Names_that_leave_the_folder_are_refused(string name, string words)
    {
        var problem = Assert.Throws<BadInputException>(() => Unpack(Zip(("good.wav", [1]), (name, [1]))));
        Assert.Contains(words, problem.Message);
        Assert.Contains(name, problem.Message);
    }

    [Fact]
    public void Double_names_links_and_damage_are_refused()
    {
        Assert.Contains("Two entries", Assert.Throws<BadInputException>(() => Unpack(Zip(("a.wav", [1]), ("A.wav", [2])))).Message);
        Assert.Contains("Make room", Assert.Throws<BadInputException>(() => Unpack(Zip(("a.wav", new byte[2000])), 1000)).Message);
        var link = Zip(("a.wav", [1]));
        using (var archive = ZipFile.Open(link, ZipArchiveMode.Update))
        {
            archive.Entries[0].ExternalAttributes = unchecked((int)0xA1FF0000);
        }

        Assert.Contains("link", Assert.Throws<BadInputException>(() => Unpack(link)).Message);
        var cut = Zip(("a.wav", new byte[5000]), ("b.wav", new byte[5000]));
        File.WriteAllBytes(cut, File.ReadAllBytes(cut)[..^40]);
        Assert.Contains("damaged", Assert.Throws<BadInputException>(() => Unpack(cut)).Message);
    }

    [Fact]
    public void Silence_comes_out_however_small_it_was_packed()
    {
        var file = Assert.Single(Unpack(Zip(("a.wav", new byte[60 << 20]))));
        Assert.Equal(60 << 20, new FileInfo(file.Path).Length);
    }

    [Fact]
    public void An_entry_that_is_not_what_its_checksum_says_is_one_bad_entry()
    {
        var files = Unpack(Zip(new HandmadeZip.Entry("a.wav", [1, 2, 3]), new HandmadeZip.Entry("b.wav", [4, 5, 6], Sum: 7), new HandmadeZip.Entry("c.wav", [7])));
        Assert.Equal(["a.wav", "b.wav", "c.wav"], files.Select(f => f.Name));
        Assert.Equal([null, ArchiveCodes.Damaged, null], files.Select(f => f.Problem?.Code));
        Assert.Contains("entry \"b.wav\": Its bytes are not those of its checksum", files[1].Problem!.Text, StringComparison.Ordinal);
        Assert.False(File.Exists(files[1].Path));
        Assert.Equal([7], File.ReadAllBytes(files[2].Path));
    }

    [Theory]
    [InlineData(1L << 62)]
    [InlineData(long.MaxValue)]
    [InlineData((1L << 30) + 1)]
    public void Sizes_beyond_the_room_are_refused_by_name_before_anything_is_written(long size)
    {
        var zip = Zip(new HandmadeZip.Entry("a.wav", [1]), new HandmadeZip.Entry("b.wav", [2], Size: size), new HandmadeZip.Entry("c.wav", [3], Size: size));
        var problem = Assert.Throws<BadInputException>(() => Unpack(zip));
        Assert.Equal((ArchiveCodes.NoRoom, "entry \"b.wav\""), (problem.Code, problem.Where));
    }

    [Fact]
    public void Entries_that_lie_over_each_other_or_beyond_the_archive_are_refused_by_name()
    {
        var over = Assert.Throws<BadInputException>(() => Unpack(Zip(new HandmadeZip.Entry("a.wav", new byte[1000]), new HandmadeZip.Entry("b.wav", new byte[1000], At: 0))));
        Assert.Equal((ArchiveCodes.Overlap, "entry \"b.wav\""), (over.Code, over.Where));
        var beyond = Assert.Throws<BadInputException>(() => Unpack(Zip(new HandmadeZip.Entry("a.wav", [1]), new HandmadeZip.Entry("b.wav", [2], Size: 5000))));
        Assert.Equal((ArchiveCodes.Damaged, "entry \"b.wav\""), (beyond.Code, beyond.Where));
    }

    [Fact]
    public void A_folder_with_nothing_to_read_is_a_clear_error()
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, "nothing")).FullName;
        File.WriteAllText(Path.Combine(folder, "readme.txt"), "x");
        Assert.Contains("nothing in it", Assert.Throws<BadInputException>(() => SessionLoader.Load(folder, folder)).Message);
        Assert.Contains("no such file", Assert.Throws<BadInputException>(() => SessionLoader.Load(Path.Combine(folder, "zzz"), folder)).Message);
    }
}
