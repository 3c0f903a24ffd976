using System.Text.Json;

namespace Lyrotrans.Formats.Otio;

/// <summary>A span of time of an OTIO document.</summary>
/// <remarks>docs/formats/otio.md, section 2.</remarks>
internal readonly record struct OtioRange(OtioTime Start, OtioTime Duration)
{
    /// <summary>A TimeRange; null where it is missing, makes no sense or runs backwards.</summary>
    public static OtioRange? Of(JsonElement element, string property) =>
        OtioNode.Get(element, property) is { ValueKind: JsonValueKind.Object } range && OtioTime.Of(range, "start_time") is { } start && OtioTime.Of(range, "duration") is { } duration && duration.Value.Sign >= 0
            ? new OtioRange(start, duration)
            : null;
}
