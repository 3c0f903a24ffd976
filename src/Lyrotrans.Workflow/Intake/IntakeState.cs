using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Everything that was brought into a transfer, and what was decided about it. Kept with each revision.</summary>
public sealed record IntakeState
{
    private static readonly JsonSerializerOptions s_json = new()
    {
        Converters = { new JsonStringEnumConverter() },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>For a session that no document describes.</summary>
    public string SessionName { get; init; } = "Session";

    public string FrameRate { get; init; } = "25";

    /// <summary>Start timecode typed in; none takes the earliest time stamp.</summary>
    public string? Start { get; init; }

    public IReadOnlyList<IntakeItem> Items { get; init; } = [];

    /// <summary>The item whose tempo map, meters, keys and bar 1 lead; none takes the first that says any.</summary>
    public string? MapFrom { get; init; }

    /// <summary>The one item whose markers are taken; none takes those of all.</summary>
    public string? MarkersFrom { get; init; }

    /// <summary>Maps that the engineer made, in order; the last is in force.</summary>
    public IReadOnlyList<MapEdit> MapEdits { get; init; } = [];

    /// <summary>By media id, the item that the engineer bound it to; an empty text leaves it missing.</summary>
    public IReadOnlyDictionary<string, string> Links { get; init; } = new Dictionary<string, string>();

    /// <summary>Of a document with several compositions, the name of the one that is taken; none takes the top one.</summary>
    public string? Composition { get; init; }

    /// <summary>Tracks joined and split, in order.</summary>
    public IReadOnlyList<ChannelEdit> ChannelEdits { get; init; } = [];

    /// <summary>The pan law that the engineer chose; none is the sources' own.</summary>
    public PanLaw? PanLaw { get; init; }

    public byte[] ToJson() => JsonSerializer.SerializeToUtf8Bytes(this, s_json);

    public static IntakeState FromJson(ReadOnlySpan<byte> json)
    {
        var node = JsonNode.Parse(json)!;
        foreach (var item in node[nameof(Items)]?.AsArray().OfType<JsonObject>() ?? [])
        {
            Upgrade(item);
        }

        return node.Deserialize<IntakeState>(s_json)!;
    }

    // Documents of before have a kind of file for each format of sessions.
    private static void Upgrade(JsonObject item)
    {
        if (item[nameof(IntakeItem.Kind)]?.GetValue<string>() is { } kind && !Enum.IsDefined(typeof(ContentKind), kind))
        {
            item[nameof(IntakeItem.Kind)] = nameof(ContentKind.Session);
            item[nameof(IntakeItem.Format)] = SessionFormats.Get(kind).Id;
        }
    }
}
