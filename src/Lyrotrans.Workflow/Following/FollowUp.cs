using System.Globalization;
using System.Text;
using System.Text.Json;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Following;
using Lyrotrans.Core.Naming;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Build;

namespace Lyrotrans.Workflow.Following;

/// <summary>
/// The list of a follow-up: which package it follows, and what each file is to whoever has that. A follow-up is a whole package without the files that are the same to the byte in the one before; together they are that
/// whole package.
/// </summary>
/// <param name="Follows">SHA-256 of the manifest of the package before, in lower-case hex.</param>
/// <param name="FollowsRevision">Its revision; 0 where nobody counted.</param>
/// <param name="Makes">SHA-256 of the manifest of what both are together.</param>
/// <param name="Made">When it was made; its files have the date of the first package, so that what did not change is the same.</param>
/// <param name="Files">In the order of the package; what is gone last.</param>
public sealed record FollowUp(string Follows, int FollowsRevision, string Makes, DateTimeOffset Made, IReadOnlyList<FollowedFile> Files)
{
    /// <summary>The list, beside the manifest.</summary>
    public const string ListName = "follow-up.json";

    /// <summary>The signature of the list.</summary>
    public const string SignatureName = "follow-up.sig";

    /// <summary>The same to read.</summary>
    public const string TextName = "Follow_up.txt";

    private const int Version = 1;
    private const string VersionProperty = "lyrotransFollowUp";

    /// <summary>Names of what lies in a follow-up beside the package's own files.</summary>
    public static IReadOnlyList<string> OwnNames { get; } = [ListName, SignatureName, TextName];

    /// <summary>Whether a file is sent.</summary>
    public static bool IsSent(FollowedFile file) => file.State is FollowedState.New or FollowedState.Replaced;

    /// <summary>Holds a package to an earlier one.</summary>
    /// <param name="before">The earlier one's manifest, and the SHA-256 of each of its files by path.</param>
    /// <param name="now">The same of the package.</param>
    public static IReadOnlyList<FollowedFile> Compare((Manifest Manifest, IReadOnlyList<(string Path, long Bytes, string Sha256)> Files) before, (Manifest Manifest, IReadOnlyList<(string Path, long Bytes, string Sha256)> Files) now)
    {
        var (then, here) = (before.Files.ToDictionary(f => f.Path, f => f.Sha256), now.Files.Select(f => f.Path).ToHashSet());
        var (nowRecords, thenRecords) = (Records(now.Manifest), Records(before.Manifest));
        return
        [
            .. now.Files.Select(f => new FollowedFile(f.Path, !then.TryGetValue(f.Path, out var was) ? FollowedState.New : was == f.Sha256 ? FollowedState.AsBefore : FollowedState.Replaced, f.Bytes, f.Sha256, nowRecords(f.Path))),
            .. before.Files.Where(f => !here.Contains(f.Path)).Select(f => new FollowedFile(f.Path, FollowedState.Gone, f.Bytes, f.Sha256, thenRecords(f.Path))),
        ];
    }

    /// <summary>How many files that are no records are in a state.</summary>
    public int Count(FollowedState state) => Files.Count(f => f.State == state && !f.IsRecord);

    /// <summary>What it brings, in a line.</summary>
    public string Words
    {
        get
        {
            var (fresh, replaced, same, gone) = (Count(FollowedState.New), Count(FollowedState.Replaced), Count(FollowedState.AsBefore), Count(FollowedState.Gone));
            var parts = new[]
            {
                fresh > 0 ? $"{Phrases.Count(fresh, "file")} new" : string.Empty, replaced > 0 ? $"{Digits.Grouped(replaced)} replaced" : string.Empty, same > 0 ? $"{Digits.Grouped(same)} as before and not sent" : string.Empty,
                gone > 0 ? $"{Digits.Grouped(gone)} gone" : string.Empty,
            }.Where(p => p.Length > 0).ToList();
            return $"{(FollowsRevision > 0 ? $"follow-up to revision {FollowsRevision}" : "follow-up")}: {(parts.Count == 0 ? "nothing but records" : string.Join(", ", parts))}";
        }
    }

    /// <summary>The list to read, in English.</summary>
    /// <param name="folder">The folder that everything lies in, with a <c>/</c> at its end.</param>
    public string ToText(string folder)
    {
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"A follow-up to the package with the manifest {Follows}");
        text.Append(FollowsRevision > 0 ? $" (revision {FollowsRevision})" : string.Empty).Append(".\n");
        text.Append("Put these files over that package's folder. Both together are one package, and SHA256SUMS has the sums of all of it.\n");
        Listed("New", FollowedState.New);
        Listed("Instead of what you have", FollowedState.Replaced);
        Listed("Delete these: they are part of it no more", FollowedState.Gone);
        Listed("As you have them, and not sent again", FollowedState.AsBefore);
        return text.ToString();

        void Listed(string head, FollowedState state)
        {
            var files = Files.Where(f => f.State == state).ToList();
            if (files.Count > 0)
            {
                text.Append(CultureInfo.InvariantCulture, $"\n{head}:\n").AppendJoin(string.Empty, files.Select(f => $"  {(f.Path.StartsWith(folder, StringComparison.Ordinal) ? f.Path[folder.Length..] : f.Path)}\n"));
            }
        }
    }

    /// <summary>As it lies in a package: UTF-8 JSON.</summary>
    public byte[] ToJson()
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            json.WriteStartObject();
            json.WriteNumber(VersionProperty, Version);
            json.WriteString("follows", Follows);
            json.WriteNumber("followsRevision", FollowsRevision);
            json.WriteString("makes", Makes);
            json.WriteString("made", Made.ToString("O", CultureInfo.InvariantCulture));
            json.WriteStartArray("files");
            foreach (var file in Files)
            {
                json.WriteStartObject();
                json.WriteString("path", file.Path);
                json.WriteString("state", file.State.ToString());
                json.WriteNumber("bytes", file.Bytes);
                json.WriteString("sha256", file.Sha256);
                json.WriteBoolean("record", file.IsRecord);
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        return output.ToArray();
    }

    /// <exception cref="Core.Errors.BadInputException">It is none, or of a newer version.</exception>
    public static FollowUp FromJson(ReadOnlyMemory<byte> bytes, string name)
    {
        using var document = JsonInput.Parse(bytes, name);
        var root = new DocumentNode(document.RootElement, DocumentPath.Root, name);
        _ = root[VersionProperty];
        DocumentVersion.Read(root, VersionProperty, Version);
        return new FollowUp(
            root["follows"].Text(), (int)root["followsRevision"].Whole(0, int.MaxValue), root["makes"].Text(),
            DateTimeOffset.TryParseExact(root["made"].Text(), "O", CultureInfo.InvariantCulture, DateTimeStyles.None, out var made) ? made : throw root["made"].Error(DocumentCodes.BadValue, "It is no date with a time."),
            root["files"].Items().Select(Read).ToList());
    }

    private static FollowedFile Read(DocumentNode node) => new(
        node["path"].Text(), Enum.TryParse<FollowedState>(node["state"].Text(), out var state) ? state : throw node["state"].Error(DocumentCodes.Unknown, $"There is no state \"{node["state"].Text()}\"."),
        node["bytes"].Whole(0), node["sha256"].Text(), node["record"].Truth());

    // What the manifest does not name lies beside it, for the same reason.
    private static Func<string, bool> Records(Manifest manifest)
    {
        var contents = manifest.Files.Where(f => f.Plan.Kind is not (PlannedKind.SessionDocument or PlannedKind.MarkerList or PlannedKind.LevelTable or PlannedKind.SettingsTable or PlannedKind.SessionSheet or PlannedKind.Manifest or PlannedKind.Checksums or PlannedKind.Signature)).Select(f => f.Plan.Path).ToHashSet();
        return path => !contents.Contains(path);
    }
}
