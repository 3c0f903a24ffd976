using System.Diagnostics;
using System.Text.Json;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Tempo and key in the sound files of a package: proved, and read by another program.</summary>
public class TagDeliveryTests(DemoSession demo)
{
    private LoadedSession With(params Rational[] tempos) => demo.Loaded with
    {
        Session = demo.Loaded.Session with
        {
            Tempo = new TempoMap([.. tempos.Select((t, i) => new TempoPoint(new Rational(i - 4, 4), t, false))]),
            Keys = [new KeyChange(0, -1, true)],
        },
    };

    private DeliveryPlan Plan(LoadedSession loaded, SoundContainer container, bool tags = true) => demo.Plan(p => p with
    {
        Container = container,
        Tags = tags,
        ChosenEnd = 20_000,
        Mix = new MixChoices(),
        Tracks = [.. p.Tracks.Select(c => c with { Treatment = c.TrackId == "cello" ? Treatment.PrintDry : Treatment.HoldBack })],
    }, loaded);

    private static Dictionary<string, string> Probed(byte[] bytes, string name, string entries = "format_tags")
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("lyro-tags-").FullName, name);
        File.WriteAllBytes(path, bytes);
        try
        {
            using var probe = Process.Start(new ProcessStartInfo("ffprobe", ["-v", "error", "-show_entries", entries, "-of", "json", path]) { RedirectStandardOutput = true })!;
            var json = probe.StandardOutput.ReadToEnd();
            probe.WaitForExit();
            var root = JsonDocument.Parse(json).RootElement;
            return (entries == "format_tags" ? root.GetProperty("format") : root.GetProperty("streams")[0]).TryGetProperty("tags", out var tags) ? tags.EnumerateObject().ToDictionary(t => t.Name.ToUpperInvariant(), t => t.Value.GetString()!) : [];
        }
        finally
        {
            Directory.Delete(Path.GetDirectoryName(path)!, recursive: true);
        }
    }

    // The other program does not read the tag of a WAVE file: it is the one of the AIFF file to the byte, which it does read.
    private Dictionary<string, string> AsInAiff(byte[] wave, LoadedSession loaded)
    {
        var plan = Plan(loaded, SoundContainer.Aiff);
        var aiff = PackageTamper.Read(demo.Build(plan, loaded), plan.Files.Single(f => f.IsSound).Path);
        Assert.Equal(Chunk(aiff, "ID3 "u8, bigEndian: true), Chunk(wave, "id3 "u8, bigEndian: false));
        return Probed(aiff, "a.aif");
    }

    private static byte[] Chunk(byte[] file, ReadOnlySpan<byte> name, bool bigEndian)
    {
        for (var at = 12; at + 8 <= file.Length;)
        {
            var size = bigEndian ? System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(file.AsSpan(at + 4)) : BitConverter.ToInt32(file, at + 4);
            if (file.AsSpan(at, 4).SequenceEqual(name))
            {
                return file[(at + 8)..(at + 8 + size)];
            }

            at += 8 + size + (size & 1);
        }

        throw new Xunit.Sdk.XunitException("There is no such chunk.");
    }

    [Theory]
    [InlineData(SoundContainer.Wav, "TBPM", "TKEY", "92")]
    [InlineData(SoundContainer.Aiff, "TBPM", "TKEY", "92")]
    [InlineData(SoundContainer.Flac, "BPM", "KEY", "92.5")]
    public void They_are_in_the_files_where_they_do_not_change(SoundContainer container, string tempo, string key, string said)
    {
        var loaded = With(new Rational(185, 2));
        var plan = Plan(loaded, container);
        var zip = demo.Build(plan, loaded);
        var report = demo.Prove(zip, plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Contains(report.Rows, r => r.What == "tempo and key" && r.Meant == $"{said}, Dm");
        var file = plan.Files.Single(f => f.IsSound);
        var bytes = PackageTamper.Read(zip, file.Path);
        var tags = container == SoundContainer.Wav ? AsInAiff(bytes, loaded) : Probed(bytes, Path.GetFileName(file.Path));
        Assert.Equal(("Dm", said), (tags.GetValueOrDefault(key, tags.GetValueOrDefault("INITIALKEY", "")), tags.GetValueOrDefault(tempo, "")));

        // They come back with the file, and the samples are those of a file without them.
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}{file.Made.Extension}");
        File.WriteAllBytes(path, bytes);
        using var sound = SoundFile.Open(new DiskFile(path), file.Path);
        Assert.Equal((said, "Dm"), sound.Tags);
        var plain = Plan(loaded, container, tags: false);
        var other = demo.Build(plain, loaded);
        Assert.NotEqual(bytes.Length, PackageTamper.Read(other, file.Path).Length);
        Assert.Equal(PackageTamper.Read(other, file.Path)[^5000..], bytes[^5000..]);
        Assert.False(demo.Prove(other, plan, loaded).Passed);
    }

    [Theory]
    [InlineData(ListeningForm.Ogg, "BPM", "KEY", "92.5")]
    [InlineData(ListeningForm.Mp3, "TBPM", "TKEY", "92")]
    public void They_are_in_copies_to_listen_to_beside_what_those_say_already(ListeningForm form, string tempo, string key, string said)
    {
        var loaded = With(new Rational(185, 2));
        DeliveryPlan Copied(bool tags)
        {
            var plan = Plan(loaded, SoundContainer.Wav, tags);
            return DeliveryPlan.Make(loaded.Session, plan.Preparation with { Mix = new MixChoices(Copies: ListeningCopies.All, CopyForm: form) }, new Dictionary<string, Core.Sound.MediaSound>());
        }

        var plan = Copied(tags: true);
        var zip = demo.Build(plan, loaded);
        var report = demo.Prove(zip, plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        var copy = plan.Files.Single(f => f.Kind == PlannedKind.ListeningCopy);
        Assert.Contains(report.Rows, r => r.What == "tempo and key" && r.Subject == Path.GetFileName(copy.Path) && r.Meant == $"{said}, Dm");
        var bytes = PackageTamper.Read(zip, copy.Path);
        var tags = Probed(bytes, Path.GetFileName(copy.Path), form == ListeningForm.Ogg ? "stream_tags" : "format_tags");
        Assert.Equal(("Dm", said), (tags.GetValueOrDefault(key, tags.GetValueOrDefault("INITIALKEY", "")), tags.GetValueOrDefault(tempo, "")));

        // The comment that says where it starts is there still.
        Assert.Contains(tags, t => t.Value.StartsWith("Starts at", StringComparison.Ordinal));

        // They come back with the file, and it sounds as one without them.
        double[] Heard(byte[] file)
        {
            var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}{Path.GetExtension(copy.Path)}");
            File.WriteAllBytes(path, file);
            using var sound = SoundFile.Open(new DiskFile(path), copy.Path);
            Assert.Equal(ReferenceEquals(file, bytes) ? (said, "Dm") : (null, null), sound.Tags);
            var samples = new[] { new double[sound.Source.Length] };
            sound.Source.Read(0, (int)sound.Source.Length, samples);
            return samples[0];
        }

        var plain = Copied(tags: false);
        var other = demo.Build(plain, loaded);
        Assert.Equal(Heard(PackageTamper.Read(other, copy.Path)), Heard(bytes));
        Assert.Contains(demo.Prove(PackageTamper.With(zip, Path.GetFileName(copy.Path), _ => PackageTamper.Read(other, copy.Path)), plan, loaded).Rows, r => r is { What: "tempo and key", Passed: false });
    }

    [Fact]
    public void A_tempo_that_changes_in_a_file_is_not_said()
    {
        var loaded = With(90, 100);
        var plan = Plan(loaded, SoundContainer.Aiff);
        var tags = Probed(PackageTamper.Read(demo.Build(plan, loaded), plan.Files.Single(f => f.IsSound).Path), "a.aif");
        Assert.Equal("Dm", tags.GetValueOrDefault("TKEY", ""));
        Assert.False(tags.ContainsKey("TBPM"));
    }
}
