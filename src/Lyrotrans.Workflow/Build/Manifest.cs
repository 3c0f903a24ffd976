using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.Preparations;
using System.Globalization;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Workflow.Build;

/// <summary>What is in a package: every file with its SHA-256, size and length, and the preparation it was built by.</summary>
/// <param name="LoweredDb">What all sound files were lowered by; 0 or below.</param>
public sealed record Manifest(string SessionName, long RangeStart, long RangeEnd, string StartTimecode, Preparation Preparation, IReadOnlyList<ManifestFile> Files, double LoweredDb = 0)
{
    /// <summary>
    /// 1 held a preparation of version 1; marker lists had bars for dots. Until 2 the session document said the hashes of media. Until 3 nothing said what made it, until 4 nothing what lacks its
    /// sound, and nobody signed.
    /// </summary>
    public const int Version = 5;

    private const string VersionProperty = "lyrotransPackage";
    private const int FirstStamped = 4;
    private const int FirstWithGaps = 5;
    private const int FirstSigned = 5;

    /// <summary>The version that it was written as.</summary>
    public int WrittenAs { get; init; } = Version;

    /// <summary>When and with what it was made; null in a package of an earlier version.</summary>
    public PackageStamp? Stamp { get; init; }

    /// <summary>Whether a signature lies beside it.</summary>
    public bool IsSigned => WrittenAs >= FirstSigned;

    /// <summary>What is in it without the sound that it should have.</summary>
    public ValueArray<SoundGap> Gaps { get; init; }

    /// <summary>Whether the package's session document says no hashes.</summary>
    public bool HasNoMediaHashes => WrittenAs > 2;

    /// <summary>As it lies in a package.</summary>
    public byte[] ToJson()
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            json.WriteStartObject();
            json.WriteNumber(VersionProperty, WrittenAs);
            WriteStamp(json);
            json.WriteString("session", SessionName);
            json.WriteNumber("rangeStart", RangeStart);
            json.WriteNumber("rangeEnd", RangeEnd);
            json.WriteString("startTimecode", StartTimecode);
            if (LoweredDb != 0)
            {
                json.WriteNumber("loweredDb", LoweredDb);
            }

            WriteGaps(json);
            json.WriteStartArray("files");
            foreach (var file in Files)
            {
                WriteFile(json, file);
            }

            json.WriteEndArray();
            json.WritePropertyName("preparation");
            PreparationDocument.Write(json, Preparation);
            json.WriteEndObject();
        }

        return output.ToArray();
    }

    /// <exception cref="Core.Errors.BadInputException">Not a manifest of this version.</exception>
    public static Manifest FromJson(ReadOnlyMemory<byte> bytes, string name)
    {
        using var document = JsonInput.Parse(bytes, name);
        var root = new DocumentNode(document.RootElement, DocumentPath.Root, name);
        _ = root[VersionProperty];
        var version = DocumentVersion.Read(root, VersionProperty, Version);

        return new Manifest(
            root["session"].Text(), root["rangeStart"].Whole(), root["rangeEnd"].Whole(), root["startTimecode"].Text(),
            PreparationDocument.Read(root["preparation"]), root["files"].Items().Select(ReadFile).ToList(),
            root.Optional("loweredDb", 0.0, n => n.Number()))
        {
            WrittenAs = version,
            Gaps = root.List("withoutSound", ReadGap),
            Stamp = version < FirstStamped ? null : ReadStamp(root),
        };
    }

    private void WriteGaps(Utf8JsonWriter json)
    {
        if (WrittenAs < FirstWithGaps)
        {
            return;
        }

        json.WriteStartArray("withoutSound");
        foreach (var gap in Gaps)
        {
            json.WriteStartObject();
            json.WriteString("kind", gap.Kind.ToString());
            json.WriteString("of", gap.Of);
            json.WriteString("why", gap.Why);
            json.WriteBoolean("accepted", gap.IsAccepted);
            json.WriteStartArray("objects");
            foreach (var name in gap.Objects)
            {
                json.WriteStringValue(name);
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    private static SoundGap ReadGap(DocumentNode node) => new(
        Enum.TryParse<SoundGapKind>(node["kind"].Text(), out var kind) ? kind : throw node["kind"].Error(DocumentCodes.Unknown, $"There is no kind \"{node["kind"].Text()}\"."),
        node["of"].Text(), node["why"].Text(), node.List("objects", n => n.Text()), node["accepted"].Truth());

    private void WriteStamp(Utf8JsonWriter json)
    {
        if (Stamp is { } stamp)
        {
            json.WriteString("made", stamp.Made.ToString("O", CultureInfo.InvariantCulture));
            json.WriteNumber("writer", stamp.Writer);
            json.WriteString("processor", stamp.Processor);
            json.WriteString("libraries", stamp.Libraries);
        }
    }

    private static PackageStamp ReadStamp(DocumentNode root) => new(
        DateTimeOffset.TryParseExact(root["made"].Text(), "O", CultureInfo.InvariantCulture, DateTimeStyles.None, out var made) ? made : throw root["made"].Error(DocumentCodes.BadValue, "It is no date with a time."),
        (int)root["writer"].Whole(1, int.MaxValue), root["processor"].Text(), root["libraries"].Text());

    private static void WriteFile(Utf8JsonWriter json, ManifestFile file)
    {
        json.WriteStartObject();
        json.WriteString("path", file.Plan.Path);
        json.WriteString("kind", file.Plan.Kind.ToString());
        json.WriteString("sha256", file.Sha256);
        json.WriteNumber("bytes", file.Bytes);
        if (file.Plan.TrackId is { } track)
        {
            json.WriteString("track", track);
        }

        if (file.Plan.PartId is { } part)
        {
            json.WriteString("part", part);
        }

        if (file.Plan.IsSound || file.Plan.Kind == PlannedKind.SameSound)
        {
            json.WriteNumber("channels", file.Plan.Channels);
            json.WriteNumber("samples", file.Plan.Frames);
        }

        json.WriteEndObject();
    }

    private static ManifestFile ReadFile(DocumentNode node) => new(
        new PlannedFile(
            node["path"].Text(),
            Enum.TryParse<PlannedKind>(node["kind"].Text(), out var kind) ? kind : throw node["kind"].Error(DocumentCodes.Unknown, $"There is no kind \"{node["kind"].Text()}\"."),
            node.Optional<string?>("track", null, n => n.Text()),
            node.Optional("channels", 0, n => (int)n.Whole(0, 1024)),
            node.Optional("samples", 0L, n => n.Whole(0)),
            PartId: node.Optional<string?>("part", null, n => n.Text())),
        node["sha256"].Text(), node["bytes"].Whole(0));
}
