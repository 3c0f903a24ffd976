using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels of sound files: measured once, kept beside the file or the package.</summary>
public static class LevelFiles
{
    private const string Name = "levels";
    private const int Block = 1 << 15;
    private static readonly JsonSerializerOptions s_json = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals, IgnoreReadOnlyProperties = true };

    /// <summary>Of a session's media by media id; what is not there yet is measured now, several files at once. Missing media is not in it.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> OfMedia(Session session, IMediaStore store, CancellationToken stop)
    {
        var media = session.Media.Where(m => m.Sha256 is not null && m.Place != MediaPlace.Missing && store.Has(m.Sha256)).ToList();
        var levels = new SoundLevels[media.Count];
        Parallel.For(0, media.Count, new ParallelOptions { CancellationToken = stop, MaxDegreeOfParallelism = Environment.ProcessorCount }, i => levels[i] = OfStored(store, media[i].Sha256!, media[i].FileName, stop));
        return media.Zip(levels).ToDictionary(p => p.First.Id, p => p.Second);
    }

    /// <summary>Of every sound file of a package, by its path.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> OfPackage(string zip, DeliveryPlan plan, string scratch, CancellationToken stop)
    {
        var files = plan.Files.Where(f => f.IsSound).ToList();
        var levels = new SoundLevels[files.Count];
        Parallel.For(0, files.Count, new ParallelOptions { CancellationToken = stop, MaxDegreeOfParallelism = Environment.ProcessorCount }, i =>
        {
            using var package = PackageReader.Open(zip, Path.GetFileName(zip));
            using var found = FoundSound.Open(package, files[i], scratch, stop);
            levels[i] = Measure(found.Sound, stop);
        });
        return files.Zip(levels).ToDictionary(p => p.First.Path, p => p.Second);
    }

    public static byte[] Write(IReadOnlyDictionary<string, SoundLevels> levels) => JsonSerializer.SerializeToUtf8Bytes(levels, s_json);

    public static IReadOnlyDictionary<string, SoundLevels> Read(string path)
    {
        using var stream = File.OpenRead(path);
        return JsonSerializer.Deserialize<Dictionary<string, SoundLevels>>(stream, s_json) ?? [];
    }

    public static SoundLevels Measure(SoundFile file, CancellationToken stop)
    {
        var source = file.Source;
        using var meter = new LevelMeter(source.Channels, source.Rate);
        var planar = Enumerable.Range(0, source.Channels).Select(_ => new double[Block]).ToArray();
        for (long at = 0; at < source.Length; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, source.Length - at);
            source.Read(at, count, planar);
            meter.Take(planar, count);
        }

        return meter.Result();
    }

    private static SoundLevels OfStored(IMediaStore store, string sha256, string name, CancellationToken stop)
    {
        var path = store.DerivedPathOf(sha256, Name);
        if (File.Exists(path) && Read(path).TryGetValue(Name, out var known))
        {
            return known;
        }

        using var file = SoundFile.Open(store.PathOf(sha256), name);
        var levels = Measure(file, stop);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var temporary = $"{path}.{Guid.NewGuid():N}";
        File.WriteAllBytes(temporary, Write(new Dictionary<string, SoundLevels> { [Name] = levels }));
        File.Move(temporary, path, overwrite: true);
        return levels;
    }
}
