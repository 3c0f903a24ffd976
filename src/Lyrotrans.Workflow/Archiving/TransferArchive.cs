using System.Text.Json;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Files;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Archiving;

/// <summary>
/// What is in the archive of a whole transfer: every source as it came, all revisions and their documents. An archive is a zip with this list as <c>archive.json</c>, documents under
/// <c>documents</c>, and what came under <c>originals</c> by its names; what was made of it and is kept, such as channels that were joined, lies under <c>made</c>, and what only earlier revisions had of such a name under <c>earlier</c>.
/// </summary>
/// <param name="LyrotransArchive">The version of the list.</param>
/// <param name="Name">The transfer's.</param>
/// <param name="Receiver">Who received it first.</param>
/// <param name="Current">The revision in force.</param>
/// <param name="Revisions">All of them, by number.</param>
/// <param name="Documents">The documents that they refer to, each once.</param>
/// <param name="Originals">What came in, each file once.</param>
/// <param name="Missing">Names of what revisions speak of and nobody has.</param>
public sealed record TransferArchive(
    int LyrotransArchive, string Name, string Receiver, int Current, IReadOnlyList<ArchivedRevision> Revisions, IReadOnlyList<ArchivedFile> Documents, IReadOnlyList<ArchivedFile> Originals, IReadOnlyList<string> Missing)
{
    /// <summary>The newest.</summary>
    public const int Version = 1;

    /// <summary>The name of the list in the zip.</summary>
    public const string ListName = "archive.json";

    // Folders of the zip.
    private const string OriginalsFolder = "originals";
    private const string MadeFolder = "made";

    private static readonly JsonSerializerOptions s_json = new(JsonSerializerDefaults.Web) { WriteIndented = true, NewLine = "\n", RespectRequiredConstructorParameters = true, RespectNullableAnnotations = true };

    /// <summary>Bytes of all files.</summary>
    public long Bytes => Documents.Sum(d => d.Bytes) + Originals.Sum(o => o.Bytes);

    /// <summary>As it lies in the zip.</summary>
    public byte[] ToJson() => JsonSerializer.SerializeToUtf8Bytes(this, s_json);

    /// <summary>The archive of a transfer.</summary>
    /// <param name="name">The transfer's.</param>
    /// <param name="receiver">Who received it first.</param>
    /// <param name="current">The revision in force.</param>
    /// <param name="revisions">All of them.</param>
    /// <param name="document">The bytes of a document by its hash.</param>
    /// <param name="sizeOf">The size of what came by its hash; null where nobody has it.</param>
    public static TransferArchive Of(string name, string receiver, int current, IReadOnlyList<ArchivedRevision> revisions, Func<string, byte[]> document, Func<string, long?> sizeOf)
    {
        var documents = revisions.SelectMany(r => new[] { r.Intake, r.Session, r.Receivers }).Distinct().Select(s => new ArchivedFile($"documents/{s}.json", s, document(s).Length)).ToList();

        // The newest first: its files have their names.
        var newest = revisions.OrderByDescending(r => r.Number == current).ThenByDescending(r => r.Number).ToList();
        var taken = new HashSet<string>(SameName.Comparer);
        var (originals, missing) = (new List<ArchivedFile>(), new List<string>());
        foreach (var (file, sha256, folder) in Needed(newest, document).DistinctBy(n => n.Sha256))
        {
            if (sizeOf(sha256) is not { } bytes)
            {
                missing.Add(file);
                continue;
            }

            var path = $"{folder}/{file}";
            originals.Add(new ArchivedFile(SafePath.Problem(path) is null && taken.Add(path) ? path : $"earlier/{sha256}", sha256, bytes));
        }

        return new TransferArchive(Version, name, receiver, current, [.. revisions.OrderBy(r => r.Number)], documents, originals, missing);
    }

    // What came in; what was made of it and is kept; and whatever else a session refers to by its sum.
    private static IEnumerable<(string Name, string Sha256, string Folder)> Needed(List<ArchivedRevision> revisions, Func<string, byte[]> document)
    {
        var states = revisions.Select(r => r.Intake).Distinct().Select(i => IntakeState.FromJson(document(i))).ToList();
        var came = states.SelectMany(s => s.Items).Where(i => i.Sha256.Length > 0).Select(i => (i.Name, i.Sha256, OriginalsFolder));
        var made = states.SelectMany(s => s.ChannelEdits).SelectMany(e => e.Media).Select(m => (m.Name, m.Sha256, MadeFolder));
        var used = revisions.Select(r => r.Session).Distinct().SelectMany(s => SessionDocumentReader.Read(new MemoryStream(document(s)), "the session").Media)
            .Where(m => m.Sha256 is not null && !m.IsAbsent).Select(m => (m.ShortName, m.Sha256!, MadeFolder));
        return came.Concat(made).Concat(used);
    }

    /// <exception cref="BadInputException">It is none, or says what cannot be.</exception>
    public static TransferArchive FromJson(ReadOnlySpan<byte> json, string file)
    {
        try
        {
            var archive = JsonSerializer.Deserialize<TransferArchive>(json, s_json) ?? throw new JsonException("It is empty.");
            return archive.Problem() is { } problem ? throw new JsonException(problem) : archive;
        }
        catch (JsonException problem)
        {
            throw new BadInputException(ArchiveCodes.BadList, file, ListName, $"The list of the archive cannot be read: {problem.Message}", "Fetch the archive again.");
        }
    }

    private string? Problem()
    {
        var documents = Documents.Select(d => d.Sha256).ToHashSet();
        var numbers = Revisions.Select(r => r.Number).ToHashSet();
        return LyrotransArchive != Version ? $"It is of version {LyrotransArchive}, and {Version} is known here."
            : Revisions.Count == 0 || !numbers.Contains(Current) ? "The revision in force is not among its revisions."
            : numbers.Count != Revisions.Count || Revisions.Any(r => r.Number < 1 || r.Parent < 0 || r.Parent >= r.Number || (r.Parent > 0 && !numbers.Contains(r.Parent))) ? "Its revisions do not follow each other."
            : Revisions.Any(r => !documents.Contains(r.Intake) || !documents.Contains(r.Session) || !documents.Contains(r.Receivers)) ? "A revision's document is not in it."
            : Documents.Concat(Originals).Any(f => !FileHash.Is(f.Sha256) || f.Bytes < 0 || SafePath.Problem(f.Path) is not null) ? "A file of it has no proper name, size or sum."
            : null;
    }
}
