using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Levels of sound files, as they are kept beside a file or a package.</summary>
public static class LevelFiles
{
    private static readonly JsonSerializerOptions s_json = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals, IgnoreReadOnlyProperties = true };

    /// <summary>As JSON, by the name of each sound; −∞ as text.</summary>
    public static byte[] Write(IReadOnlyDictionary<string, SoundLevels> levels) => JsonSerializer.SerializeToUtf8Bytes(levels, s_json);

    /// <summary>What <see cref="Write"/> wrote.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> Read(IStoredFile file)
    {
        using var stream = file.Open();
        return JsonSerializer.Deserialize<Dictionary<string, SoundLevels>>(stream, s_json) ?? [];
    }
}
