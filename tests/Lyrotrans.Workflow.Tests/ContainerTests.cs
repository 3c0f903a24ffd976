using System.Diagnostics;
using System.Security.Cryptography;
using System.Text.Json;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Containers;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Sound inside MXF, MOV and MP4, linked by documents or brought in as such.</summary>
public sealed class ContainerTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-containers-").FullName;
    private readonly MemoryMedia _media;

    public ContainerTests()
    {
        _media = new MemoryMedia(Path.Combine(_folder, "scratch"));
        Directory.CreateDirectory(_media.Scratch);
        Directory.CreateDirectory(Path.Combine(_folder, "incoming"));
    }

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static JsonElement Said(string name) => JsonDocument.Parse(File.ReadAllText(Fixtures.Path($"mxf/{name}.json"))).RootElement;

    private string Made(string name, params string[] arguments)
    {
        var path = Path.Combine(_folder, name);
        using var made = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-y", .. arguments, path]))!;
        made.WaitForExit();
        Assert.Equal(0, made.ExitCode);
        return path;
    }

    private async Task<IReadOnlyList<IntakeItem>> TakeAsync(params (string Path, string Name)[] files)
    {
        using var pulse = new WorkPulse(_ => false);
        return await new IntakeWork(_media, Path.Combine(_folder, "incoming"), (_, _) => Task.CompletedTask, pulse).TakeAsync([.. files.Select(f =>
        {
            var copy = Path.Combine(_folder, "incoming", Guid.NewGuid().ToString("N"));
            File.Copy(f.Path, copy);
            return new ArrivedFile(f.Name, copy, null);
        })]);
    }

    // The samples of some channels of a file, side by side as they lie in it.
    private static string HashOf(IStoredFile file, int first, int channels)
    {
        using var stream = file.Open();
        var layout = WaveReader.Read(stream, "taken.wav").Layout;
        var bytes = new byte[layout.DataBytes];
        stream.Position = layout.DataOffset;
        stream.ReadExactly(bytes);
        var depth = layout.Encoding.Bytes();
        var taken = Enumerable.Range(0, (int)layout.Frames).SelectMany(f => bytes.AsSpan((f * layout.BytesPerFrame) + (first * depth), channels * depth).ToArray()).ToArray();
        return Convert.ToHexStringLower(SHA256.HashData(taken));
    }

    // Every medium has the samples that were said, stream by stream, and every clip its channel counted over all of them.
    private static void Holds(Session session, JsonElement said, Func<Media, IStoredFile> fileOf)
    {
        Assert.DoesNotContain(session.Media, m => m.Place == MediaPlace.Missing);
        foreach (var (track, wanted) in session.Tracks.Zip(said.GetProperty("tracks").EnumerateArray()))
        {
            foreach (var (clip, meant) in track.Sounding!.Clips.Zip(wanted.GetProperty("clips").EnumerateArray()))
            {
                Assert.Equal((meant.GetProperty("start").GetInt64(), meant.GetProperty("length").GetInt64(), meant.GetProperty("sourceOffset").GetInt64()), (clip.Start, clip.Length, clip.SourceOffset));
                var medium = said.GetProperty("media").GetProperty(meant.GetProperty("media").GetString()!);
                var streams = medium.TryGetProperty("streams", out var several)
                    ? several.EnumerateArray().Select(s => (Channels: s.GetProperty("channels").GetInt32(), Hash: s.GetProperty("sampleDataSha256").GetString())).ToList()
                    : [(Channels: medium.GetProperty("channels").GetInt32(), Hash: medium.GetProperty("sampleDataSha256").GetString())];
                var file = fileOf(session.Media.First(m => m.Id == clip.Media));
                var first = 0;
                foreach (var (channels, hash) in streams)
                {
                    Assert.Equal(hash, HashOf(file, first, channels));
                    first += channels;
                }

                Assert.Equal(meant.GetProperty("channel").GetInt32() - 1, Assert.Single(clip.ChannelMap));
                Assert.InRange(clip.ChannelMap[0], 0, first - 1);
            }
        }
    }

    [Theory]
    [InlineData("tarn-atoms")]
    [InlineData("tarn-renamed")]
    [InlineData("tarn-reel")]
    [InlineData("tarn-mov")]
    public void Linked_sound_inside_other_files_is_found_and_taken_out_to_the_bit(string name)
    {
        var loaded = SessionLoader.Load(Fixtures.Path($"mxf/{name}.aaf"), _media.Scratch);
        Holds(loaded.Session, Said(name), m => loaded.Media.FileOf(m)!);
        Assert.Empty(SessionRules.Check(loaded.Session));
        Assert.Empty(ContentsCompared.Differences(Fixtures.Path($"mxf/{name}.aaf"), Fixtures.Path($"mxf/{name}.json")));
        FromZero.Passes(Fixtures.Path($"mxf/{name}.aaf"), _folder);
    }

    [Theory]
    [InlineData("tarn-atoms", "found by name", "tarn-A01.mxf", "tarn-A02.mxf")]
    [InlineData("tarn-renamed", "found by identifier", "tarn-A01.mxf", "tarn-A02.mxf")]
    [InlineData("tarn-reel", "found by name", "tarn-reel.mxf")]
    [InlineData("tarn-mov", "found by name", "tarn-reel.mov")]
    public async Task The_same_comes_in_as_files_from_a_browser(string name, string reason, params string[] media)
    {
        var items = await TakeAsync([(Fixtures.Path($"mxf/{name}.aaf"), $"{name}.aaf"), .. media.Select(m => (Fixtures.Path($"mxf/{m}"), $"media/{m}"))]);
        Assert.All(items, i => Assert.Null(i.Error));
        Assert.Equal(1 + (2 * media.Length), items.Count);
        var joined = SessionJoin.Join(new IntakeState { Items = items }, sha => _media.FileOf(sha).Open());
        Holds(joined.Session, Said(name), m => _media.FileOf(m.Sha256!));
        Assert.Equal(joined.Session.Media.Count, items.Count(i => i.TakenFrom is not null));
        Assert.All(items.Where(i => i.TakenFrom is not null), i => Assert.StartsWith($"media, {reason}", joined.Placed[i.Id].Reason, StringComparison.Ordinal));

        // Its picture is the picture, and no sound is a track of its own beside the clips.
        Assert.Equal(name is "tarn-reel" or "tarn-mov" ? $"media/{media[0]}" : null, joined.Session.Picture?.FileName);
        Assert.Equal(Said(name).GetProperty("tracks").GetArrayLength(), joined.Session.Tracks.Count);
        Assert.Empty(Directory.EnumerateFiles(_media.Scratch));
    }

    [Fact]
    public async Task Dropped_by_itself_its_sound_is_a_track_at_the_timecode_of_its_picture()
    {
        var items = await TakeAsync((Fixtures.Path("mxf/tarn-reel.mov"), "tarn-reel.mov"));
        var sound = Assert.Single(items, i => i.IsSound);
        Assert.Equal(("tarn-reel.mov media/tarn-reel.wav", 4, 96_000L, SampleEncoding.Integer24), (sound.Name, sound.Sound!.Channels, sound.Sound.Frames, sound.Sound.Encoding));

        // 09:59:50:00 at 25 frames a second.
        Assert.Equal(((9 * 3600L) + (59 * 60) + 50) * 48_000, sound.Sound.TimeReference);
        var session = SessionJoin.Join(new IntakeState { Items = items }, sha => _media.FileOf(sha).Open()).Session;
        Assert.Equal(("tarn-reel", 0L, 96_000L), (session.Tracks[0].Name, session.Tracks[0].Lanes[0].Clips[0].Start, session.Tracks[0].Lanes[0].Clips[0].Length));
        Assert.Equal("09:59:50:00", session.Start.ToString());

        // The same from a folder, on the command line.
        var folder = Directory.CreateDirectory(Path.Combine(_folder, "film")).FullName;
        File.Copy(Fixtures.Path("mxf/tarn-reel.mov"), Path.Combine(folder, "tarn-reel.mov"));
        var loaded = SessionLoader.Load(folder, _media.Scratch);
        Assert.Equal((session.Tracks, session.Picture), (loaded.Session.Tracks, loaded.Session.Picture));
        Assert.Equal(_media.FileOf(session.Media[0].Sha256!).Length, loaded.Media.FileOf(loaded.Session.Media[0])!.Length);
    }

    [Fact]
    public async Task A_file_that_was_cut_keeps_its_length_in_silence_and_says_so()
    {
        var whole = File.ReadAllBytes(Fixtures.Path("mxf/tarn-A01.mxf"));
        var cut = Path.Combine(_folder, "cut.mxf");
        File.WriteAllBytes(cut, whole[..(whole.Length / 2)]);
        var items = await TakeAsync((cut, "tarn-A01.mxf"), (Fixtures.Path("mxf/tarn-A02.mxf"), "tarn-A02.mxf"), (Fixtures.Path("mxf/tarn-atoms.aaf"), "tarn-atoms.aaf"));
        var sound = Assert.Single(items, i => i.TakenFrom == "tarn-A01.mxf");
        Assert.Equal(96_000, sound.Sound!.Frames);
        Assert.Equal(ContainerCodes.CutShort, Assert.Single(sound.Findings).Code);
        Assert.Empty(Assert.Single(items, i => i.TakenFrom == "tarn-A02.mxf").Findings);

        // So far that nothing of its sound is left, it is a bad file; the others come in.
        File.WriteAllBytes(cut, whole[..3000]);
        items = await TakeAsync((cut, "tarn-A01.mxf"), (Fixtures.Path("mxf/tarn-A02.mxf"), "tarn-A02.mxf"));
        Assert.StartsWith("container.", Assert.Single(items, i => i.Error is not null).Error!.Code.ToString(), StringComparison.Ordinal);
        Assert.Single(items, i => i.IsSound);
    }

    [Fact]
    public async Task A_length_that_its_bytes_cannot_hold_is_refused_before_anything_is_made_as_long()
    {
        var bytes = File.ReadAllBytes(Fixtures.Path("mxf/tarn-A01.mxf"));
        for (int at; (at = bytes.AsSpan().IndexOf(new byte[] { 0, 0, 0, 0, 0, 1, 0x77, 0 })) >= 0;)
        {
            bytes[at + 3] = 0x7F;
        }

        var path = Path.Combine(_folder, "long.mxf");
        File.WriteAllBytes(path, bytes);
        var item = Assert.Single(await TakeAsync((path, "long.mxf")));
        Assert.Equal(ContainerCodes.NotRead, item.Error!.Code);
        Assert.Contains("a length that its bytes cannot hold", item.Error.Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Lossy_sound_is_taken_and_flagged_and_picture_without_sound_is_picture()
    {
        var aac = Made("song.mp4", "-f", "lavfi", "-i", "sine=440:d=2:r=48000", "-c:a", "aac");
        var silent = Made("silent.mov", "-f", "lavfi", "-i", "color=black:s=64x64:d=1", "-c:v", "mpeg4");
        var items = await TakeAsync((aac, "song.mp4"), (silent, "silent.mov"));
        var song = Assert.Single(items, i => i.IsSound);
        Assert.Equal(("song.mp4", SoundFileCodes.Lossy, SampleEncoding.Float32), (song.TakenFrom, Assert.Single(song.Findings).Code, song.Sound!.Encoding));
        Assert.InRange(song.Sound.Frames, 96_000, 98_048);
        Assert.Equal([(ContentKind.Container, "song.mp4"), (ContentKind.Picture, "silent.mov")], items.Where(i => !i.IsSound).Select(i => (i.Kind, i.Name)).OrderBy(i => i.Kind == ContentKind.Picture));
        Assert.Equal(["a reference picture: MPEG-4, 64 × 64, 25 frames a second, 0 min 01 s"], items.First(i => i.Name == "silent.mov").Brings);
    }

    [Fact]
    public async Task Streams_of_other_rates_are_files_of_their_own_and_late_ones_begin_in_silence()
    {
        var two = Made("two.mov", "-f", "lavfi", "-i", "sine=440:d=1:r=48000", "-f", "lavfi", "-i", "sine=550:d=1:r=44100", "-itsoffset", "0.5", "-f", "lavfi", "-i", "sine=660:d=1:r=48000",
            "-map", "0", "-map", "1", "-map", "2", "-c:a", "pcm_s16le");
        var items = await TakeAsync((two, "two.mov"));
        Assert.Equal(
            [("two.mov media/two 48000 Hz.wav", 2, 72_000L), ("two.mov media/two 44100 Hz.wav", 1, 44_100L)],
            items.Where(i => i.IsSound).Select(i => (i.Name, i.Sound!.Channels, i.Sound.Frames)));
    }

    [Fact]
    public async Task What_only_begins_like_one_is_said_and_a_picture_that_cannot_be_read_is_a_picture_still()
    {
        var (mxf, mov) = (Path.Combine(_folder, "a.mxf"), Path.Combine(_folder, "a.mov"));
        File.WriteAllBytes(mxf, [0x06, 0x0E, 0x2B, 0x34, 0x02, 0x05, 0x01, 0x01, 0x0D, 0x01, 0x02, 0x01, 0x01, 0x02, 0x04, 0x00, .. new byte[600]]);
        File.WriteAllBytes(mov, [0, 0, 0, 16, .. "ftypqt  "u8, 0, 0, 0, 0, .. new byte[600]]);
        var items = await TakeAsync((mxf, "a.mxf"), (mov, "a.mov"));
        Assert.Equal(["a.mov", "a.mxf"], items.Select(i => i.Name));
        Assert.Equal((ContentKind.Picture, null), (items[0].Kind, items[0].Error));
        Assert.Equal(ContainerCodes.NotRead, Assert.Single(items[0].Findings).Code);
        Assert.Contains(items[1].Error!.Code, new[] { ContainerCodes.NotRead, ContainerCodes.Nothing });
    }

    [Fact]
    public void A_file_that_names_others_reads_no_other()
    {
        // A list of files is no MOV, whatever it is called; and nothing but the disk may be asked.
        var list = Path.Combine(_folder, "list.mov");
        File.WriteAllText(list, "#EXTM3U\n#EXTINF:1,\nhttp://127.0.0.1:9/a.wav\n");
        using var stream = File.OpenRead(list);
        Assert.Equal(ContentKind.Unknown, ContentSniffer.Recognise(stream));
        Assert.Throws<Core.Errors.BadInputException>(() => ContainerFile.Open(new DiskFile(list), "list.mov"));
    }

    [Fact]
    public void Every_mutation_of_one_is_read_or_refused()
    {
        var whole = File.ReadAllBytes(Fixtures.Path("mxf/tarn-A02.mxf"));
        var dice = new Random(17);
        for (var n = 0; n < 12; n++)
        {
            var bytes = (byte[])whole.Clone();
            for (var i = 0; i < 40; i++)
            {
                bytes[dice.Next(n % 2 == 0 ? 4096 : bytes.Length)] = (byte)dice.Next(256);
            }

            var path = Path.Combine(_folder, "mutated.mxf");
            File.WriteAllBytes(path, bytes);
            try
            {
                using var file = ContainerFile.Open(new DiskFile(path), "mutated.mxf");
                foreach (var sound in file.Facts.Sounds)
                {
                    file.Write(sound, Path.Combine(_folder, "out.wav"), CancellationToken.None);
                }
            }
            catch (Core.Errors.BadInputException problem)
            {
                Assert.StartsWith("container.", problem.Finding.Code.ToString(), StringComparison.Ordinal);
            }
        }
    }
}
