using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

public sealed class BuildAndProofTests(DemoSession demo)
{
    [Theory]
    [InlineData(SampleEncoding.Integer24, SoundContainer.Wav, RangeStart.SessionStart)]
    [InlineData(SampleEncoding.Integer16, SoundContainer.Wav, RangeStart.Bar1)]
    [InlineData(SampleEncoding.Float32, SoundContainer.Wav, RangeStart.Chosen)]
    [InlineData(SampleEncoding.Integer24, SoundContainer.Flac, RangeStart.SessionStart)]
    [InlineData(SampleEncoding.Integer16, SoundContainer.Flac, RangeStart.Bar1)]
    public void Every_form_of_the_demo_passes_its_proof(SampleEncoding encoding, SoundContainer container, RangeStart from)
    {
        var plan = demo.Plan(p => p with { Encoding = encoding, Container = container, From = from, ChosenStart = -4801 });
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        Assert.NotEmpty(report.Clips);
        Assert.All(report.Residuals, r => Assert.True(r.PeakDb <= (encoding == SampleEncoding.Integer16 ? -86.8 : -138), $"{r.Name} {r.PeakDb}"));
        Assert.Contains(report.Residuals, r => r is { Name: "Guide piano", BitExact: true } || encoding == SampleEncoding.Integer16);
    }

    [Fact]
    public void Time_stamped_files_and_midi_make_a_session_that_builds_and_passes()
    {
        var plan = demo.Plan(loaded: demo.Stamped);
        var report = demo.Prove(demo.Build(plan, demo.Stamped), plan, demo.Stamped);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        Assert.All(report.Residuals, r => Assert.True(r.BitExact, r.Name));
    }

    [Fact]
    public void All_files_start_together_are_equally_long_and_carry_the_time_stamp()
    {
        var plan = demo.Plan(p => p with { From = RangeStart.Bar1 });
        using var zip = ZipFile.OpenRead(demo.Build(plan));
        var waves = zip.Entries.Where(e => e.Name.EndsWith(".wav", StringComparison.Ordinal)).ToList();
        Assert.Equal(plan.Files.Count(f => f.Kind == PlannedKind.FromZero), waves.Count);
        foreach (var entry in waves)
        {
            using var stream = new MemoryStream();
            using (var from = entry.Open())
            {
                from.CopyTo(stream);
            }

            var header = WaveReader.Read(stream, entry.Name);
            Assert.Empty(header.Findings);
            Assert.Equal(plan.Range.Length, header.Layout.Frames);
            Assert.Equal(1_728_000_000 + 31_304, header.Broadcast!.TimeReference);
        }
    }

    [Fact]
    public void The_zip_is_stored_and_its_checksums_and_manifest_agree()
    {
        var plan = demo.Plan();
        var path = demo.Build(plan);
        using var zip = ZipFile.OpenRead(path);
        Assert.All(zip.Entries, e => Assert.Equal(e.Length, e.CompressedLength));
        Assert.Equal(plan.Files.Select(f => f.Path), zip.Entries.Select(e => e.FullName));
        using var package = PackageReader.Open(new DiskFile(path), "p.zip");
        foreach (var file in package.Manifest.Files)
        {
            Assert.Equal(file.Sha256, Convert.ToHexStringLower(SHA256.HashData(package.Read(file.Plan.Path))));
        }

        var sums = Encoding.UTF8.GetString(package.Read($"{plan.Root}/SHA256SUMS")).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(plan.Files.Count - 2, sums.Length);
        foreach (var line in sums)
        {
            Assert.Equal(line[..64], Convert.ToHexStringLower(SHA256.HashData(package.Read($"{plan.Root}/{line[66..]}"))));
        }
    }

    [Fact]
    public void The_same_session_and_choices_give_the_same_bytes() =>
        Assert.Equal(SHA256.HashData(File.ReadAllBytes(demo.Build(demo.Plan()))), SHA256.HashData(File.ReadAllBytes(demo.Build(demo.Plan()))));

    [Fact]
    public void One_sample_late_fails_and_is_measured()
    {
        var plan = demo.Plan();
        var report = demo.Prove(PackageTamper.With(demo.Build(plan), "01_Horn_close.wav", w => PackageTamper.Shifted(w, 1)), plan);
        Assert.False(report.Passed);
        var moved = report.Clips.Where(c => c.Offset != 0).ToList();
        Assert.NotEmpty(moved);
        Assert.All(moved, c => Assert.Equal(1, c.Offset));
        Assert.All(moved, c => Assert.StartsWith("Horn close", c.Name));
        Assert.DoesNotContain(report.Rows, r => !r.Passed && r.What == "SHA-256");
        Assert.False(report.Rows[0].Passed);
    }

    [Fact]
    public void Another_gain_fails_and_is_measured()
    {
        var plan = demo.Plan();
        var report = demo.Prove(PackageTamper.With(demo.Build(plan), "Narrator.wav", w => PackageTamper.Louder(w, -0.5)), plan);
        Assert.False(report.Passed);
        var gains = report.Rows.Where(r => r is { What: "gain in the print", Passed: false }).ToList();
        Assert.NotEmpty(gains);
        Assert.All(gains, r => Assert.Equal("-0.500", r.Difference));
    }

    [Fact]
    public void A_missing_note_fails()
    {
        var plan = demo.Plan();
        var report = demo.Prove(PackageTamper.With(demo.Build(plan), ".mid", bytes =>
        {
            var file = SmfReader.Read(new MemoryStream(bytes), "m.mid");
            var harp = file.Tracks.Single(t => SmfContents.Of(new SmfFile { Tracks = [t] }).Tracks[0].Name == "Harp");
            var note = harp.Events.First(e => e.Kind == 0x90);
            var fewer = harp with { Events = harp.Events.Where(e => e != note).ToValueArray() };
            return SmfWriter.Write(file with { Tracks = file.Tracks.Select(t => t == harp ? fewer : t).ToValueArray() });
        }), plan);
        var row = Assert.Single(report.Rows, r => r is { Passed: false, What: not "every byte", Subject: not "Carry plan" });
        Assert.Equal(("Harp", "notes", "−1"), (row.Subject, row.What, row.Difference));
        Assert.Contains(report.Rows, r => r is { Subject: "Carry plan", What: "notes in MIDI", Difference: "−1", Passed: false });
    }

    [Fact]
    public void A_changed_document_a_missing_file_and_an_extra_one_fail()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        var document = PackageTamper.With(zip, ".session.json", bytes => Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(bytes).Replace("\"bar1\": 31304", "\"bar1\": 31305", StringComparison.Ordinal)));
        Assert.Contains(demo.Prove(document, plan).Rows, r => r is { What: "bar 1", Difference: "1", Passed: false });
        using (var archive = ZipFile.Open(zip, ZipArchiveMode.Update))
        {
            archive.Entries.First(e => e.Name == "03_Cello.wav").Delete();
            archive.CreateEntry("Orrery_Suite/stray.txt");
        }

        var rows = demo.Prove(zip, plan).Rows.Where(r => !r.Passed).ToList();
        Assert.Contains(rows, r => r.Subject.EndsWith("03_Cello.wav", StringComparison.Ordinal) && r.Found == "missing");
        Assert.Contains(rows, r => r.Subject.EndsWith("stray.txt", StringComparison.Ordinal));
    }

    [Fact]
    public void Damage_without_a_new_hash_is_seen_by_the_hash()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        using (var archive = ZipFile.Open(zip, ZipArchiveMode.Update))
        {
            var entry = archive.Entries.First(e => e.Name == "Session_sheet.html");
            using var stream = entry.Open();
            stream.Position = 200;
            stream.WriteByte((byte)'x');
        }

        Assert.Contains(demo.Prove(zip, plan).Rows, r => !r.Passed && r.What == "SHA-256");
    }

    [Fact]
    public void What_is_no_package_is_a_clear_error()
    {
        var path = Path.Combine(demo.Folder, "no.zip");
        File.WriteAllBytes(path, File.ReadAllBytes(demo.Build(demo.Plan()))[..5000]);
        Assert.Contains("not a whole zip", Assert.Throws<BadInputException>(() => demo.Prove(path, demo.Plan())).Message);
        using (ZipFile.Open(path + "2", ZipArchiveMode.Create))
        {
        }

        Assert.Contains("manifest", Assert.Throws<BadInputException>(() => demo.Prove(path + "2", demo.Plan())).Message);
    }

    [Fact]
    public void A_stopped_build_leaves_nothing()
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, "stopped")).FullName;
        using var stop = new CancellationTokenSource();
        var path = Path.Combine(folder, "p.zip");
        Assert.Throws<OperationCanceledException>(() => PackageFile.Build(
            demo.Plan(), demo.Loaded.Media, path, DemoSession.Maker, p => { if (p.Fraction > 0.3) { stop.Cancel(); } }, stop.Token));
        Assert.Empty(Directory.EnumerateFiles(folder));
    }

    [Fact]
    public void A_full_disk_says_what_is_needed_and_leaves_nothing()
    {
        var output = new FullDisk();
        var problem = Assert.Throws<IOException>(() => PackageBuilder.Build(demo.Plan(), demo.Loaded.Media, output, DemoSession.Maker, _ => { }, CancellationToken.None));
        Assert.Contains("No space", problem.Message);
        var endless = demo.Plan(p => p with { Tail = 1L << 50 });
        var folder = Directory.CreateDirectory(Path.Combine(demo.Folder, "full")).FullName;
        var words = Assert.Throws<IOException>(() => PackageFile.Build(endless, demo.Loaded.Media, Path.Combine(folder, "p.zip"), DemoSession.Maker, _ => { }, CancellationToken.None)).Message;
        Assert.Contains("Make room", words);
        Assert.Empty(Directory.EnumerateFiles(folder));
    }

    [Fact]
    public void The_sheet_and_the_record_say_what_came()
    {
        var plan = demo.Plan();
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan)), "p.zip");
        var sheet = Encoding.UTF8.GetString(package.Read($"{plan.Root}/Session_sheet.html"));
        Assert.Contains("Swell: in/out?", sheet);
        Assert.Contains("Test tone", sheet);
        Assert.Contains("held back; it is hidden", sheet);
        Assert.DoesNotContain("<script", sheet);
        var record = SessionDocumentReader.Read(new MemoryStream(package.Read($"{plan.Root}/{plan.Root}.session.json")), "record");
        Assert.Equal(plan.DeliveredSession(), record);
        Assert.DoesNotContain(record.Tracks, t => t.State is TrackState.Hidden or TrackState.SwitchedOff);
    }

    [Fact]
    public void Untouched_sound_is_the_source_byte_for_byte_and_silence_is_filled_in()
    {
        var plan = demo.Plan();
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan)), "p.zip");
        var print = package.Read(plan.Files.Single(f => f.TrackId == "guide-piano").Path);
        var source = File.ReadAllBytes(Path.Combine(demo.Folder, "session", "media", "guide-piano.wav"));
        var (from, to) = (WaveReader.Read(new MemoryStream(source), "s").Layout, WaveReader.Read(new MemoryStream(print), "p").Layout);
        var clip = plan.Session.Tracks.Single(t => t.Id == "guide-piano").Sounding!.Clips[0];
        var length = (int)clip.Length * from.BytesPerFrame;
        Assert.Equal(
            source.AsSpan((int)(from.DataOffset + (clip.SourceOffset * from.BytesPerFrame)), length),
            print.AsSpan((int)(to.DataOffset + (clip.Start * to.BytesPerFrame)), length));
        Assert.True(print.AsSpan((int)to.DataOffset, (int)clip.Start * to.BytesPerFrame).IndexOfAnyExcept((byte)0) < 0);
    }

    [Fact]
    public void Media_of_another_rate_is_converted_and_its_clips_keep_their_places()
    {
        var plan = demo.Plan();
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan)), "p.zip");
        var path = Path.Combine(demo.Folder, "bell.wav");
        File.WriteAllBytes(path, package.Read(plan.Files.Single(f => f.TrackId == "bell").Path));
        using var print = SoundFile.Open(new DiskFile(path), "bell");
        var sound = Audio.Peaks.PeakPyramid.Measure(print.Source, CancellationToken.None).Sound;
        var clips = plan.Session.Tracks.Single(t => t.Id == "bell").Sounding!.Clips;

        // The bell is struck 10 ms into its file; nothing sounds before the clip, and it sounds within that time after it.
        Assert.InRange(sound.FirstSound, clips[0].Start, clips[0].Start + 480 + 48);
        Assert.InRange(sound.EndOfSound, clips[^1].End - 4800, clips[^1].End);
    }

    [Fact]
    public void Names_in_the_sheet_are_shown_and_never_run()
    {
        var session = demo.Loaded.Session;
        var evil = session with { Name = "<script>alert(1)</script>\u202Egnp", Tracks = session.Tracks.Select(t => t with { Name = "<b>&" + t.Name }).ToValueArray() };
        var plan = DeliveryPlan.Make(evil, Preparation.Default(evil, SessionFormats.Usual), new Dictionary<string, MediaSound>());
        var sheet = SessionSheet.Write(plan, plan.Gaps, plan.Files.Select(f => new ManifestFile(f, new string('0', 64), 1)).ToList(), 0, DemoSession.Stamp);
        Assert.DoesNotContain("<script", sheet);
        Assert.DoesNotContain("<b>&", sheet);
        Assert.Contains("Content-Security-Policy\" content=\"default-src 'none'", sheet);
        Assert.DoesNotContain('\u202E', sheet);
        Assert.Contains("[U+202E]", sheet);
        Assert.Contains("&lt;b&gt;&amp;Cello", sheet);
        Assert.All(plan.Files, f => Assert.DoesNotContain('<', f.Path));
    }

    [Fact]
    public void A_manifest_reads_back_and_other_versions_are_refused()
    {
        var plan = demo.Plan();
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan)), "p.zip");
        var json = package.Manifest.ToJson();
        Assert.Equal(json, Manifest.FromJson(json, "m").ToJson());
        Assert.Equal(plan.Preparation, package.Manifest.Preparation);
        var newer = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(json).Replace($"\"lyrotransPackage\": {Manifest.Version}", "\"lyrotransPackage\": 99", StringComparison.Ordinal));
        Assert.Equal("$.lyrotransPackage", Assert.Throws<BadInputException>(() => Manifest.FromJson(newer, "m")).Where);
        Assert.Throws<BadInputException>(() => Manifest.FromJson(json.AsMemory(0, 200), "m"));
    }

    private sealed class FullDisk : MemoryStream
    {
        public override void Write(byte[] buffer, int offset, int count)
        {
            if (Length + count > 100_000)
            {
                throw new IOException("No space left on device");
            }

            base.Write(buffer, offset, count);
        }

        public override void Write(ReadOnlySpan<byte> buffer) => Write(buffer.ToArray(), 0, buffer.Length);
    }
}
