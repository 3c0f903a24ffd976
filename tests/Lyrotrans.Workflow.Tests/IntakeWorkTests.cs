using System.IO.Compression;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Taking files in, into a store that is no folder.</summary>
public sealed class IntakeWorkTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory().FullName;
    private readonly MemoryMedia _media;
    private readonly Dictionary<string, string> _hashes = [];

    public IntakeWorkTests() => _media = new MemoryMedia(Path.Combine(_folder, "scratch"));

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private ArrivedFile Arrived(string fixture, string? name = null)
    {
        Directory.CreateDirectory(Path.Combine(_folder, "incoming"));
        Directory.CreateDirectory(_media.Scratch);
        var path = Path.Combine(_folder, "incoming", Guid.NewGuid().ToString("N"));
        File.Copy(Fixtures.Path(fixture), path);
        return new ArrivedFile(name ?? Path.GetFileName(fixture), path, null);
    }

    private ArrivedFile Flac(string name)
    {
        var path = Path.Combine(_folder, name);
        using (var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 1, SampleEncoding.Integer16, Dither.None, "a tone"))
        {
            writer.Write([[.. Enumerable.Range(0, 4800).Select(i => Math.Sin(i / 20.0) / 2)]], 4800);
            writer.Finish();
        }

        return new ArrivedFile(name, path, null);
    }

    private async Task<IReadOnlyList<IntakeItem>> TakeAsync(params ArrivedFile[] files)
    {
        using var pulse = new WorkPulse(_ => false);
        var work = new IntakeWork(_media, Path.Combine(_folder, "incoming"), (file, sha256) =>
        {
            // The hash is known before the file leaves its place.
            Assert.True(File.Exists(file.Path));
            _hashes[file.Path] = sha256;
            return Task.CompletedTask;
        }, pulse);
        return work.Measured(await work.TakeAsync(files));
    }

    private IEnumerable<string> Left() => Directory.EnumerateFiles(_folder, "*", SearchOption.AllDirectories);

    [Fact]
    public async Task Files_of_every_kind_come_in_and_leave_no_copy()
    {
        var items = await TakeAsync(Flac("tone.flac"), Arrived("aaf/cello.wav"), Arrived("midi/cut.mid"), Arrived("README.md", "notes.wav"));
        Assert.Equal(["cello.wav", "cut.mid", "notes.wav", "tone.flac"], items.Select(i => i.Name));
        Assert.Equal([null, null, FileCodes.WrongName, null], items.Select(i => i.Error?.Code));
        Assert.All(items.Where(i => i.IsSound), i => Assert.NotNull(_media.DerivedOf(i.Sha256, "peaks")));
        Assert.Empty(Left());
    }

    [Fact]
    public async Task Sound_inside_a_document_comes_out_of_it()
    {
        var items = await TakeAsync(Arrived("aaf/embedded-wave.aaf"));
        Assert.True(items[0].IsDocument);
        Assert.True(items.Count > 1);
        Assert.All(items.Skip(1), i => Assert.True(i.IsSound, i.Error?.Text));
        Assert.Empty(Left());
    }

    [Fact]
    public async Task A_file_with_the_very_samples_of_a_medium_is_that_medium_and_not_one_more_track()
    {
        var first = await TakeAsync(Arrived("aaf/embedded-wave.aaf"));
        var inside = first.First(i => i.IsSound && i.Sound!.Frames > 1000 && !i.Sound.Encoding.IsFloat());

        // The same samples in other forms and under other names: as AIFF, and as 32 bits of which the lowest are 0. And the same but for one sample.
        using var file = SoundFile.Open(_media.FileOf(inside.Sha256), inside.Name);
        var planar = Enumerable.Range(0, inside.Sound!.Channels).Select(_ => new double[inside.Sound.Frames]).ToArray();
        file.Source.Read(0, (int)inside.Sound.Frames, planar);
        var wide = Written("another name.wav", planar, SampleEncoding.Integer32, inside.Sound.SampleRate);
        planar[0][500] += 1 / 8_388_608.0;
        var other = Written("take 2.wav", planar, SampleEncoding.Integer32, inside.Sound.SampleRate);
        var silence = Written("silence.wav", [new double[4800]], SampleEncoding.Integer16, SampleRate.Hz48000);

        var items = await TakeAsync(Arrived("aaf/embedded-wave.aaf"), wide, other, silence);
        var state = new IntakeState { Items = items };
        var joined = Join(state);
        Assert.StartsWith($"the same sound as {Path.GetFileName(inside.Name)}", joined.Placed[items.First(i => i.Name == "another name.wav").Id].Reason, StringComparison.Ordinal);
        Assert.Equal(["silence", "take 2"], joined.Session.Tracks.Select(t => t.Name).Where(n => n is "another name" or "take 2" or "silence").Order());
        Assert.Null(items.First(i => i.Name == "silence.wav").SampleSum);

        // Who says that it is a track has one.
        var edited = new Editing.IntakeEdits(state, joined.Session, joined).RoleOfMany([items.First(i => i.Name == "another name.wav").Id], RoleKind.Track);
        Assert.Contains("another name", Join(edited.After!).Session.Tracks.Select(t => t.Name));
    }

    private JoinedSession Join(IntakeState state) => SessionJoin.Join(state, sha256 => _media.FileOf(sha256).Open());

    private ArrivedFile Written(string name, double[][] planar, SampleEncoding encoding, SampleRate rate)
    {
        var layout = new PcmLayout(encoding, false, planar.Length, rate, 0, planar[0].Length);
        var bytes = new byte[layout.DataBytes];
        new PcmEncoder(encoding).Encode(planar, planar.Length, planar[0].Length, bytes);
        var path = Path.Combine(_folder, "incoming", Guid.NewGuid().ToString("N"));
        File.WriteAllBytes(path, [.. Formats.Wave.WaveWriter.Head(layout), .. bytes, .. new byte[layout.DataBytes & 1]]);
        return new ArrivedFile(name, path, null);
    }

    /// <summary>The fixture with the directory entry of its second sound changed: where its bytes begin, and how many they are.</summary>
    private ArrivedFile WithSecondSound(uint start, ulong bytes)
    {
        var arrived = Arrived("aaf/embedded-pcm.aaf", "e.aaf");
        var file = File.ReadAllBytes(arrived.Path);
        var entries = Enumerable.Range(0, file.Length / 128).Select(i => i * 128)
            .Where(at => file.AsSpan(at, 20).SequenceEqual(System.Text.Encoding.Unicode.GetBytes("Data-2702\0")) && BitConverter.ToUInt64(file, at + 120) > 4096).ToList();
        Assert.Equal([(31U, 576_000UL), (173U, 48_000UL)], entries.Select(at => (BitConverter.ToUInt32(file, at + 116), BitConverter.ToUInt64(file, at + 120))));
        BitConverter.GetBytes(start).CopyTo(file, entries[1] + 116);
        BitConverter.GetBytes(bytes).CopyTo(file, entries[1] + 120);
        File.WriteAllBytes(arrived.Path, file);
        return arrived;
    }

    [Fact]
    public async Task A_document_whose_media_lie_over_each_other_is_refused_before_any_is_written()
    {
        var items = await TakeAsync(WithSecondSound(31, 576_000), Flac("tone.flac"));
        Assert.Equal([("e.aaf", IntakeCodes.MediaShared), ("tone.flac", null)], items.Select(i => (i.Name, i.Error?.Code)));
        Assert.Empty(Left());
    }

    [Fact]
    public async Task A_document_with_a_medium_that_cannot_be_read_is_one_bad_item()
    {
        var items = await TakeAsync(WithSecondSound(0xFFFFFFF0, 48_000), Flac("tone.flac"));
        Assert.Equal([("e.aaf", Formats.Compound.CompoundCodes.BadChain), ("tone.flac", null)], items.Select(i => (i.Name, i.Error?.Code)));
        Assert.Empty(Left());
    }

    [Fact]
    public async Task Room_is_asked_for_before_anything_is_unpacked_or_taken_out_and_given_back()
    {
        var archive = new ArrivedFile("all.zip", Path.Combine(_folder, "archive"), null);
        File.WriteAllBytes(archive.Path, HandmadeZip.Of(new HandmadeZip.Entry("a.wav", File.ReadAllBytes(Fixtures.Path("aaf/cello.wav")))));
        var length = new FileInfo(Fixtures.Path("aaf/cello.wav")).Length;
        var asked = new List<(string, long)>();
        var document = Arrived("aaf/embedded-pcm.aaf", "e.aaf");
        var full = await With(_ => "It is full.");
        Assert.Equal([("all.zip", ArchiveCodes.NoRoom, "It is full."), ("e.aaf", IntakeCodes.MediaNoRoom, "It is full.")], full.Select(i => (i.Name, i.Error!.Code, i.Error.Text)));
        Assert.Equal([("all.zip", length), ("e.aaf", 624_000L)], asked);
        asked.Clear();
        document = Arrived("aaf/embedded-pcm.aaf", "e.aaf");
        Assert.All(await With(_ => null), i => Assert.Null(i.Error));
        Assert.Equal([("all.zip", length), ("all.zip", -length), ("e.aaf", 624_000L), ("e.aaf", -624_000L)], asked);

        async Task<IReadOnlyList<IntakeItem>> With(Func<long, string?> room)
        {
            using var pulse = new WorkPulse(_ => false);
            return await new IntakeWork(_media, Path.Combine(_folder, "incoming"), (_, _) => Task.CompletedTask, pulse, (what, bytes) =>
            {
                asked.Add((what, bytes));
                return Task.FromResult(bytes < 0 ? null : room(bytes));
            }).TakeAsync([archive, document]);
        }
    }

    [Fact]
    public async Task A_refused_archive_is_one_item_and_stays_until_the_work_is_done()
    {
        var archive = new ArrivedFile("all.zip", Path.Combine(_folder, "archive"), null);
        using (var zip = ZipFile.Open(archive.Path, ZipArchiveMode.Create))
        {
            zip.CreateEntry("../out.wav").Open().Dispose();
        }

        var item = Assert.Single(await TakeAsync(archive));
        Assert.Equal((ArchiveCodes.RefusedName, "all.zip"), (item.Error!.Code, item.Name));
        Assert.Equal([archive.Path], Left());
        Assert.Equal("brought in all.zip, 1 could not be read", IntakeWork.Words([item]));
    }

    [Fact]
    public async Task A_bad_file_is_one_bad_item_and_the_others_of_its_batch_come_in()
    {
        var archive = new ArrivedFile("all.zip", Path.Combine(_folder, "archive"), null);
        var cello = File.ReadAllBytes(Fixtures.Path("aaf/cello.wav"));
        File.WriteAllBytes(archive.Path, HandmadeZip.Of(new("in/broken.wav", cello, Sum: 1), new("in/cello.wav", cello)));
        var wide = Path.Combine(_folder, "wide.wav");
        var layout = new PcmLayout(SampleEncoding.Integer16, false, 4096, SampleRate.Hz48000, 0, 2);
        File.WriteAllBytes(wide, [.. Formats.Wave.WaveWriter.Head(layout, new Formats.Wave.BroadcastExtension("d", "o", 0)), .. new byte[layout.DataBytes]]);
        var items = await TakeAsync(archive, new ArrivedFile("wide.wav", wide, null), Flac("tone.flac"));
        Assert.Equal(
            [("in/broken.wav", ArchiveCodes.Damaged.Id), ("in/cello.wav", null), ("tone.flac", null), ("wide.wav", Formats.OpenSession.DocumentCodes.BadValue.Id)],
            items.Select(i => (i.Name, i.Error?.Code.Id)).OrderBy(i => i.Name, StringComparer.Ordinal));
        Assert.Contains("4096 is not between", items.Single(i => i.Name == "wide.wav").Error!.Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(26, new[] { "sound.wrong-sum" })]
    [InlineData(400, new[] { "sound.wrong-sum" })]
    [InlineData(-1, new[] { "sound.wrong-sum" })]
    [InlineData(-2, new[] { "sound.wrong-sum" })]
    public async Task A_flac_file_whose_sound_is_not_what_it_says_is_told(int at, string[] codes)
    {
        var good = Flac("tone.flac");
        var bytes = File.ReadAllBytes(good.Path);
        Assert.Empty((await TakeAsync(good)).Single().Findings);

        // Of the sum itself, of a frame, and of the last frame's own sum.
        bytes[at < 0 ? bytes.Length + at : at] ^= 0x10;
        File.WriteAllBytes(good.Path, bytes);
        var item = Assert.Single(await TakeAsync(good));
        Assert.Null(item.Error);
        Assert.Equal(codes, item.Findings.Select(f => f.Code.Id).Where(c => c != "sound.decoded-in-part"));

        // It is told again where the same file comes in once more, measured already.
        File.WriteAllBytes(good.Path, bytes);
        Assert.Equal(item.Findings, Assert.Single(await TakeAsync(good)).Findings);
    }

    [Fact]
    public async Task A_flac_file_that_was_cut_says_how_much_is_silence()
    {
        var good = Flac("tone.flac");
        var bytes = File.ReadAllBytes(good.Path);
        File.WriteAllBytes(good.Path, bytes[..(bytes.Length / 2)]);
        var item = Assert.Single(await TakeAsync(good));
        Assert.True(item.Error is not null || item.Findings.Any(f => f.Code == Sounds.SoundFileCodes.DecodedInPart), string.Join(", ", item.Findings));
    }

    [Fact]
    public async Task Work_that_was_killed_finds_what_it_had_taken()
    {
        var file = Arrived("aaf/cello.wav");
        var first = await TakeAsync(file);
        var again = await TakeAsync(file with { Sha256 = _hashes[file.Path] });
        Assert.Equal(first.Select(i => (i.Id, i.Sha256)), again.Select(i => (i.Id, i.Sha256)));

        // What nobody holds is not there, whatever the row says.
        Assert.Empty(await TakeAsync(file with { Sha256 = new string('0', 64) }));
    }

    [Fact]
    public async Task A_stop_ends_it_between_two_files()
    {
        using var stop = new CancellationTokenSource();
        using var pulse = new WorkPulse(_ => false, stop.Token);
        var file = Arrived("aaf/cello.wav");
        await stop.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => new IntakeWork(_media, _folder, (_, _) => Task.CompletedTask, pulse).TakeAsync([file]));
        Assert.True(File.Exists(file.Path));
    }
}
