using System.Buffers.Binary;
using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Audio.Decoding;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>The decoder's process: what it can do, and what becomes of files when it ends.</summary>
[Collection("decoders")]
public sealed class DecoderTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyrotrans-decoder-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private (string Path, double[] Sound) Flac(int seed, int frames)
    {
        var dice = new Random(seed);
        var (path, sound) = (Path.Combine(_folder, $"{seed}.flac"), Enumerable.Range(0, frames).Select(_ => dice.Next(-32_768, 32_768) / 32_768.0).ToArray());
        using var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 1, SampleEncoding.Integer16, Dither.None, "bell");
        writer.Write([sound], frames);
        writer.Finish();
        return (path, sound);
    }

    private static double[] Read(CodedSource source, long start, int count)
    {
        var into = new double[count];
        source.Read(start, count, [into]);
        return into;
    }

    private static List<Process> Decoders() =>
    [
        .. Directory.EnumerateDirectories("/proc").Select(d => int.TryParse(Path.GetFileName(d), out var id) ? id : 0).Where(id => id > 0 && IsOurs(id)).Select(Process.GetProcessById),
    ];

    private static bool IsOurs(int id)
    {
        try
        {
            return File.ReadAllText($"/proc/{id}/stat").Split(')')[^1].Split(' ')[2] == Environment.ProcessId.ToString(CultureInfo.InvariantCulture)
                && IsDecoder(File.ReadAllText($"/proc/{id}/cmdline").Split('\0'));
        }
        catch (IOException)
        {
            return false;
        }
    }

    // Not one of those that are about to become a program that another test runs at this moment.
    private static bool IsDecoder(string[] words) =>
        Array.FindIndex(words, w => w.EndsWith("Lyrotrans.Decoder.dll", StringComparison.Ordinal)) is >= 0 and var at && words.ElementAtOrDefault(at + 1) is not ("run" or "make" or "check");

    private static void Kill()
    {
        foreach (var decoder in Decoders())
        {
            decoder.Kill();
            decoder.WaitForExit();
        }
    }

    [Fact]
    public void A_decoder_has_no_network_no_programs_no_files_to_write_and_little_memory()
    {
        using var check = Process.Start(new ProcessStartInfo("dotnet", [typeof(Decoder.DecoderQuestion).Assembly.Location, "check", Path.Combine(_folder, "new")]) { RedirectStandardOutput = true })!;
        var lines = check.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(["network: refused", "other programs: refused", "writing: refused", "removing: refused", "more memory: refused"], lines);
    }

    [Fact]
    public void A_program_that_it_becomes_is_confined_as_it_is()
    {
        var written = Path.Combine(_folder, "written");
        using var run = Process.Start(new ProcessStartInfo("dotnet", [typeof(Decoder.DecoderQuestion).Assembly.Location, "run", "/usr/bin/python3", "-c", $$"""
            import os, resource, socket
            def tries(what):
                try:
                    what(); return "possible"
                except (OSError, MemoryError):
                    return "refused"
            print(tries(lambda: socket.socket()), tries(lambda: open("{{written}}", "w")), tries(lambda: os.fork()), tries(lambda: bytearray(2 << 30)))
            print(len(os.environ.keys() - {"LC_CTYPE"}), resource.getrlimit(resource.RLIMIT_CPU)[0])
            """]) { RedirectStandardOutput = true })!;
        Assert.Equal(["refused refused refused refused", "0 3600"], run.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.False(File.Exists(written));
    }

    [Fact]
    public void The_decoders_that_work_are_confined_so_and_know_nothing_of_what_this_process_was_told()
    {
        var (path, _) = Flac(1, 100);
        using var source = CodedSource.Open(path, "bell.flac");
        var decoder = Assert.IsType<Process>(Decoders().FirstOrDefault());
        var status = File.ReadAllLines($"/proc/{decoder.Id}/status");
        Assert.Contains("Seccomp:\t2", status);
        Assert.Contains("NoNewPrivs:\t1", status);
        Assert.Matches("Max data size +1073741824 +1073741824", File.ReadAllText($"/proc/{decoder.Id}/limits"));
        Assert.All(File.ReadAllText($"/proc/{decoder.Id}/environ").Split('\0', StringSplitOptions.RemoveEmptyEntries), v => Assert.StartsWith("DOTNET_", v, StringComparison.Ordinal));
        Assert.Equal("/dev/null", new FileInfo($"/proc/{decoder.Id}/fd/2").LinkTarget);
        Assert.DoesNotContain(Directory.EnumerateFiles("/dev/shm"), f => f.Contains("lyrotrans-", StringComparison.Ordinal));
    }

    [Fact]
    public void A_file_goes_on_in_another_decoder_when_its_own_is_gone()
    {
        var (path, sound) = Flac(2, 300_000);
        using var source = CodedSource.Open(path, "bell.flac");
        Assert.Equal(sound[..1000], Read(source, 0, 1000));
        Kill();
        Assert.Equal(sound[200_000..201_000], Read(source, 200_000, 1000));
        Assert.Equal(0, source.Missing);
    }

    [Fact]
    public async Task A_file_at_which_decoders_break_down_is_a_bad_one_and_the_others_go_on()
    {
        var (path, sound) = Flac(3, 300_000);
        using var good = CodedSource.Open(path, "bell.flac");

        // Whoever reads a pipe waits for what is written to it, and whoever opens it for writing waits for a reader: a decoder that is only starting is not killed.
        var waits = Path.Combine(_folder, "waits.flac");
        Process.Start("mkfifo", waits).WaitForExit();
        var opening = Task.Run(() => CodedSource.Open(waits, "waits.flac"));
        for (var decoder = 0; decoder < 2; decoder++)
        {
            await using var held = await Task.Run(() => new FileStream(waits, FileMode.Open, FileAccess.Write, FileShare.ReadWrite)).WaitAsync(TimeSpan.FromMinutes(2));
            Kill();
        }

        var problem = await Assert.ThrowsAsync<BadInputException>(() => opening);
        Assert.Equal(DecodingCodes.NotDecoded, problem.Code);
        Assert.Contains("the decoder breaks down at it", problem.Message, StringComparison.Ordinal);
        Assert.Equal(sound[250_000..250_100], Read(good, 250_000, 100));
    }

    // Rate 20 bits, channels less one 3, bits less one 5, frames 36; docs/formats/sound.md, section 7.
    private string Saying(int seed, int frames, Func<ulong, ulong> change)
    {
        var bytes = File.ReadAllBytes(Flac(seed, frames).Path);
        BinaryPrimitives.WriteUInt64BigEndian(bytes.AsSpan(18), change(BinaryPrimitives.ReadUInt64BigEndian(bytes.AsSpan(18))));
        var path = Path.Combine(_folder, $"says-{seed}.flac");
        File.WriteAllBytes(path, bytes);
        return path;
    }

    [Theory]
    [InlineData(5, 1000, (1L << 36) - 1, "bytes cannot hold")]
    [InlineData(6, 300_000, (1L << 32) + 1, "may hold 4294967296 samples")]
    public void What_a_header_says_is_counted_before_anything_is_made_as_long(int seed, int frames, long said, string why)
    {
        var path = Saying(seed, frames, packed => (packed & ~((1UL << 36) - 1)) | (ulong)said);
        var problem = Assert.Throws<BadInputException>(() => CodedSource.Open(path, "bell.flac"));
        Assert.Contains(why, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_rest_of_a_file_that_ends_long_before_its_header_says_is_not_asked_for_for_hours()
    {
        const int Block = 8192;
        var path = Saying(8, 300_000, packed => (packed & ~((1UL << 36) - 1)) | (1UL << 31));
        using var source = CodedSource.Open(path, "bell.flac");
        var at = 0L;
        for (; at < 200L * Block; at += Block)
        {
            Read(source, at, Block);
        }

        // Nobody is asked any more: no decoder is there, and none is started.
        Kill();
        for (; at < 400L * Block; at += Block)
        {
            Assert.All(Read(source, at, Block), s => Assert.Equal(0, s));
        }

        Assert.Empty(Decoders());
        Assert.Equal((400L * Block) - 300_000, source.Missing);
    }

    [Fact]
    public void A_rate_of_nothing_is_refused()
    {
        var path = Saying(7, 1000, packed => packed & 0x00000FFFFFFFFFFF);
        Assert.Equal(DecodingCodes.NotDecoded, Assert.Throws<BadInputException>(() => CodedSource.Open(path, "bell.flac")).Code);
    }

    [Fact]
    public void The_emptiest_sound_is_one_that_its_bytes_can_hold()
    {
        var path = Path.Combine(_folder, "silence.flac");
        var silence = new double[1 << 20];
        using (var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 1, SampleEncoding.Integer16, Dither.None, "bell"))
        {
            for (var block = 0; block < 20; block++)
            {
                writer.Write([silence], silence.Length);
            }

            writer.Finish();
        }

        using var source = CodedSource.Open(path, "silence.flac");
        Assert.Equal(20 << 20, source.Length);
        Assert.All(Read(source, 19 << 20, 1000), s => Assert.Equal(0, s));
        Assert.Equal(0, source.Missing);
    }

    [Fact]
    public void What_is_asked_for_in_many_ways_is_the_same_sound()
    {
        var (path, sound) = Flac(4, 100_000);
        using var source = CodedSource.Open(path, "bell.flac");
        var dice = new Random(9);
        for (var i = 0; i < 200; i++)
        {
            var (start, count) = (dice.Next(-500, 100_500), dice.Next(1, i % 20 == 0 ? 90_000 : 3000));
            Assert.Equal(Enumerable.Range(start, count).Select(n => n is < 0 or >= 100_000 ? 0 : sound[n]), Read(source, start, count));
        }

        Assert.Equal(0, source.Missing);
    }
}
