using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels of sound files, as they are kept beside a file or a package.</summary>
public static class LevelFiles
{
    private static readonly JsonSerializerOptions s_json = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals, IgnoreReadOnlyProperties = true };

    public static byte[] Write(IReadOnlyDictionary<string, SoundLevels> levels) => JsonSerializer.SerializeToUtf8Bytes(levels, s_json);

    public static IReadOnlyDictionary<string, SoundLevels> Read(string path)
    {
        using var stream = File.OpenRead(path);
        return JsonSerializer.Deserialize<Dictionary<string, SoundLevels>>(stream, s_json) ?? [];
    }
}
