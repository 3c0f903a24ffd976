using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels of sound files, as they are kept beside a file or a package.</summary>
public static class LevelFiles
{
    private static readonly JsonSerializerOptions s_json = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals, IgnoreReadOnlyProperties = true };

    /// <summary>Of every sound file of a package, by its path, measured now.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> OfPackage(string zip, DeliveryPlan plan, string scratch, CancellationToken stop)
    {
        var files = plan.Files.Where(f => f.IsSound).ToList();
        var levels = AtOnce.Select(
            files,
            f =>
            {
                using var package = PackageReader.Open(zip, Path.GetFileName(zip));
                using var found = FoundSound.Open(package, f, scratch, stop);
                return SoundAnalysis.Measure(found.Sound.Source, stop).Levels;
            },
            stop);
        return files.Zip(levels).ToDictionary(p => p.First.Path, p => p.Second);
    }

    public static byte[] Write(IReadOnlyDictionary<string, SoundLevels> levels) => JsonSerializer.SerializeToUtf8Bytes(levels, s_json);

    public static IReadOnlyDictionary<string, SoundLevels> Read(string path)
    {
        using var stream = File.OpenRead(path);
        return JsonSerializer.Deserialize<Dictionary<string, SoundLevels>>(stream, s_json) ?? [];
    }
}
