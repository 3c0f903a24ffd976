using Lyrotrans.Core.Delivering;
using Lyrotrans.Workflow.Findings;
using Lyrotrans.Workflow.Incoming;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Everything that was brought into a transfer, and what was decided about it. Kept with each revision.</summary>
public sealed record IntakeState
{
    private static readonly JsonSerializerOptions s_json = new()
    {
        Converters = { new JsonStringEnumConverter(), new FindingCodeConverter() },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>The newest version of this document. 1 had none, and a kind of file for each format of sessions; up to 2 findings were texts without a code; up to 3 files had no roles; up to 4 nothing was cut at its silences, and one document made the session; up to 5 there were no notes and no edited markers; up to 6 sound files had no marks; up to 7 no packages were known.</summary>
    public const int NewestVersion = 8;

    /// <summary>Of the document that it was read from, or will be written as.</summary>
    public int Version { get; init; } = NewestVersion;

    /// <summary>For a session that no document describes.</summary>
    public string SessionName { get; init; } = "Session";

    /// <summary>By name, for a session that no document describes.</summary>
    public string FrameRate { get; init; } = "25";

    /// <summary>Start timecode typed in; none takes the earliest time stamp.</summary>
    public string? Start { get; init; }

    /// <summary>What was brought in, in order.</summary>
    public IReadOnlyList<IntakeItem> Items { get; init; } = [];

    /// <summary>Packages of this program among them; one in a folder.</summary>
    public IReadOnlyList<IncomingPackage> Packages { get; init; } = [];

    /// <summary>Those of them whose manifest is still among what was brought in: whoever takes it away takes the package as loose files.</summary>
    [JsonIgnore]
    public IReadOnlyList<IncomingPackage> PackagesHere
    {
        get
        {
            var manifests = Items.Select(i => (i.Name, i.Sha256)).ToHashSet();
            return [.. Packages.Where(p => manifests.Contains((p.Folder + IncomingPackage.ManifestName, p.Manifest)))];
        }
    }

    /// <summary>What came with them and is of no use here, by name.</summary>
    public IReadOnlyList<LeftOutFile> LeftOut { get; init; } = [];

    /// <summary>The item whose tempo map, meters, keys and bar 1 lead; none takes the first that says any.</summary>
    public string? MapFrom { get; init; }

    /// <summary>The one item whose markers are taken; none takes those of all.</summary>
    public string? MarkersFrom { get; init; }

    /// <summary>Maps that the engineer made, in order; the last is in force.</summary>
    public IReadOnlyList<MapEdit> MapEdits { get; init; } = [];

    /// <summary>Markers that the engineer set, changed or took away, in order.</summary>
    public IReadOnlyList<MarkerEdit> MarkerEdits { get; init; } = [];

    /// <summary>By media id, the item that the engineer bound it to; an empty text leaves it missing.</summary>
    public IReadOnlyDictionary<string, string> Links { get; init; } = new Dictionary<string, string>();

    /// <summary>Of a document with several compositions, the name of the one that is taken; none takes the top one.</summary>
    public string? Composition { get; init; }

    /// <summary>Tracks joined and split, in order.</summary>
    public IReadOnlyList<ChannelEdit> ChannelEdits { get; init; } = [];

    /// <summary>Items that describe sessions besides the one that leads, and lie beside it, in order.</summary>
    public IReadOnlyList<string> Beside { get; init; } = [];

    /// <summary>Tracks from zero that are cut back at their silences.</summary>
    public IReadOnlyList<TrackCut> Cuts { get; init; } = [];

    /// <summary>What the engineer says of tracks and clips; one for each at most.</summary>
    public IReadOnlyList<ObjectNote> Notes { get; init; } = [];

    /// <summary>The pan law that the engineer chose; none is the sources' own.</summary>
    public PanLaw? PanLaw { get; init; }

    /// <summary>The state with more items and the packages among them. Of packages in one folder the newest counts: the one that follows the other, else the later one; a file of the other that it replaces stays out.</summary>
    public IntakeState With(IReadOnlyList<IntakeItem> all, IReadOnlyList<IncomingPackage> packages)
    {
        var together = Packages.Concat(packages).ToList();
        var newest = together.GroupBy(p => p.Folder).ToDictionary(g => g.Key, g => g.LastOrDefault(p => g.All(other => other.Follows != p.Manifest)) ?? g.Last());
        var older = together.Where(p => p.Manifest != newest[p.Folder].Manifest).ToList();
        bool IsReplaced(IntakeItem item) => older.Exists(p => (p.Folder + IncomingPackage.ManifestName, p.Manifest) == (item.Name, item.Sha256)
            || (p.FileOf(item.Name)?.Sha256 == item.Sha256 && newest[p.Folder].FileOf(item.Name) is { } now && now.Sha256 != item.Sha256));
        return With([.. all.Where(i => !IsReplaced(i))]) with { Packages = [.. newest.Values] };
    }

    /// <summary>The state with the documents of packages beside the session that leads, at their places.</summary>
    public IntakeState LayingBeside(IReadOnlyList<IncomingPackage> packages)
    {
        var documents = Items.Where(i => i.IsDocument && packages.Any(p => p.FileOf(i.Name) is { Kind: PlannedKind.SessionDocument })).Select(i => i.Id);
        return this with { Beside = [.. Beside.Union(documents)] };
    }

    /// <summary>What can be said of each package that was brought in.</summary>
    public IReadOnlyList<IncomingCheck> PackageChecks()
    {
        var here = Items.Where(i => i.Sha256.Length > 0 && i.TakenFrom is null).Select(i => (i.Name, i.Sha256)).Concat(LeftOut.Select(f => (f.Name, Sha256: string.Empty))).DistinctBy(i => i.Name).ToDictionary(i => i.Name, i => i.Sha256);
        return [.. PackagesHere.Select(p => IncomingCheck.Of(p, here))];
    }

    /// <summary>The state with more items; one of the same name takes the place of the earlier, and keeps its placement and role; the same file keeps its declared rate too.</summary>
    public IntakeState With(IReadOnlyList<IntakeItem> all)
    {
        var items = all.Where(i => !i.IsLeftOut).ToList();
        var leftOut = all.Where(i => i.IsLeftOut).Select(i => new LeftOutFile(i.Name, i.Bytes)).ToList();
        var before = Items.ToDictionary(i => i.Name);
        var fresh = items.Select(i => before.TryGetValue(i.Name, out var old) && old.Kind == i.Kind
            ? old.Sha256 == i.Sha256 ? i with { Id = old.Id, Placement = old.Placement, Role = old.Role, DeclaredRate = old.DeclaredRate } : i with { Placement = old.Placement, Role = old.Role } : i).ToList();
        var names = fresh.Select(i => i.Name).ToHashSet();
        return this with
        {
            Items = [.. Items.Where(i => !names.Contains(i.Name)), .. fresh.DistinctBy(i => i.Name)],
            LeftOut = [.. LeftOut.Concat(leftOut).DistinctBy(f => f.Name).Where(f => !names.Contains(f.Name)).OrderBy(f => f.Name, StringComparer.OrdinalIgnoreCase)],
        };
    }

    /// <summary>The state with a note in place of what the engineer said of the same track or clip before.</summary>
    public IntakeState Noting(ObjectNote note) => this with { Notes = [.. Notes.Where(n => (n.Track, n.Clip) != (note.Track, note.Clip)), note] };

    /// <summary>Whether files of these names with the same bytes are all in it.</summary>
    public bool HasAll(IReadOnlyList<IntakeItem> items)
    {
        var have = Items.Select(i => (i.Name, i.Sha256)).ToHashSet();
        var leftOut = LeftOut.Select(f => f.Name).ToHashSet();
        return items.All(i => have.Contains((i.Name, i.Sha256)) || (i.IsLeftOut && leftOut.Contains(i.Name)));
    }

    /// <summary>As it is kept with a revision.</summary>
    public byte[] ToJson() => JsonSerializer.SerializeToUtf8Bytes(this, s_json);

    /// <exception cref="BadInputException">It is of a newer version.</exception>
    public static IntakeState FromJson(ReadOnlySpan<byte> json)
    {
        var node = JsonNode.Parse(json)!;
        if (node[nameof(Version)]?.GetValue<int>() is > NewestVersion and var version)
        {
            throw new BadInputException(DocumentCodes.NewerVersion, "the intake", nameof(Version), $"This has version {version}, and this program knows versions up to {NewestVersion}.", "Update the program.");
        }

        node[nameof(Version)] = NewestVersion;
        foreach (var item in node[nameof(Items)]?.AsArray().OfType<JsonObject>() ?? [])
        {
            Upgrade(item);
        }

        return node.Deserialize<IntakeState>(s_json)!;
    }

    private static void Upgrade(JsonObject item)
    {
        GiveCodes(item, nameof(IntakeItem.Findings));
        GiveCodes(item[nameof(IntakeItem.Sound)] as JsonObject, nameof(SoundFileFacts.Findings));
        if (item[nameof(IntakeItem.Error)] is JsonValue error)
        {
            item[nameof(IntakeItem.Error)] = Coded(error.GetValue<string>());
        }

        if (item[nameof(IntakeItem.Kind)]?.GetValue<string>() is { } kind && !Enum.IsDefined(typeof(ContentKind), kind))
        {
            item[nameof(IntakeItem.Kind)] = nameof(ContentKind.Session);
            item[nameof(IntakeItem.Format)] = SessionFormats.Get(kind).Id;
        }
    }

    private static void GiveCodes(JsonObject? holder, string name)
    {
        if (holder?[name] is JsonArray texts && texts.Any(t => t is JsonValue))
        {
            holder[name] = new JsonArray([.. texts.Select(t => t is JsonValue text ? Coded(text.GetValue<string>()) : t?.DeepClone())]);
        }
    }

    private static JsonNode Coded(string text) => JsonSerializer.SerializeToNode(new Finding(IntakeCodes.Earlier, string.Empty, text), s_json)!;
}
