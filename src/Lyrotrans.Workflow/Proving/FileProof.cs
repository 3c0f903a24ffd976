using System.IO.Compression;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Whether a file that was written holds the session that it was written from: a package, its folder, a file of clips, or a session document.</summary>
public static class FileProof
{
    /// <param name="path">What was written.</param>
    /// <param name="loaded">What it was written from.</param>
    /// <param name="scratch">For files that live as long as the work.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <param name="preparation">How a package was to be prepared; null holds it to what its own manifest says.</param>
    /// <param name="accepted">Names of what may go without its sound, besides those of the preparation.</param>
    /// <param name="known">Keys that are known here, and whose each is.</param>
    /// <param name="before">For a follow-up, the packages before, the first one first: all are proved as the one that they make together.</param>
    /// <exception cref="BadInputException">It cannot be read at all.</exception>
    public static ProofReport Prove(string path, LoadedSession loaded, string scratch, Action<WorkProgress> report, CancellationToken stop, Preparation? preparation = null, IReadOnlyCollection<string>? accepted = null, IReadOnlyDictionary<PublicKey, string>? known = null, IReadOnlyList<string>? before = null)
    {
        var terms = new ProofTerms { PreparationOfPackage = preparation is null, Accepted = accepted ?? [], Known = known ?? ProofTerms.Own.Known };
        if (before is { Count: > 0 })
        {
            return United(path, before, scratch, zip => OfPackage(zip, loaded, preparation, terms with { Unpacked = true }, report, stop), stop);
        }

        if (Directory.Exists(path))
        {
            return AsZip(path, scratch, zip => OfPackage(zip, loaded, preparation, terms with { Unpacked = true }, report, stop));
        }

        if (!File.Exists(path))
        {
            throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file.", "Check the path.");
        }

        return SessionConvert.IsClips(path) ? OfClips(path, loaded, terms, stop)
            : SessionConvert.IsDocument(path) ? OfDocument(path, loaded, terms, scratch, stop)
            : OfPackage(path, loaded, preparation, terms, report, stop);
    }

    /// <summary>Checks a package or its folder without the session that it was made of.</summary>
    /// <param name="path">The package.</param>
    /// <param name="known">Keys that are known here, and whose each is.</param>
    /// <param name="scratch">For files that live as long as the work.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between files.</param>
    /// <param name="before">For a follow-up, the packages before, the first one first.</param>
    /// <exception cref="BadInputException">It is no package, or cannot be read at all; or it is a follow-up and was given alone.</exception>
    public static WholeReport Check(string path, IReadOnlyDictionary<PublicKey, string> known, string scratch, Action<WorkProgress> report, CancellationToken stop, IReadOnlyList<string>? before = null) =>
        United(path, before ?? [], scratch, zip => WholeCheck.Check(new DiskFile(zip), Path.GetFileName(path), known, report, stop), stop);

    // Packages one over the other; of one alone that is itself.
    private static T United<T>(string path, IReadOnlyList<string> before, string scratch, Func<string, T> read, CancellationToken stop) => AsZip(path, scratch, zip =>
    {
        if (before.Count == 0)
        {
            return read(zip);
        }

        return United(before[^1], [.. before.SkipLast(1)], scratch, then =>
        {
            Directory.CreateDirectory(scratch);
            var both = Path.Combine(scratch, $"{Guid.NewGuid():N}.zip");
            try
            {
                using (var output = File.Create(both))
                {
                    UnitedPackage.Write(new DiskFile(then), new DiskFile(zip), Path.GetFileName(path), output, stop);
                }

                return read(both);
            }
            finally
            {
                File.Delete(both);
            }
        }, stop);
    });

    /// <summary>The key that a package or its folder says it is signed with; null where it says none.</summary>
    public static PublicKey? SignerOf(string path)
    {
        var isFolder = Directory.Exists(path);
        if (!isFolder && !path.EndsWith(".zip", StringComparison.OrdinalIgnoreCase))
        {
            return null;
        }

        if (isFolder)
        {
            var signature = FolderFiles.Of(path).Files.FirstOrDefault(f => Path.GetFileName(f) == "manifest.sig");
            return signature is null ? null : SignatureProof.Read(File.ReadAllBytes(signature), signature).Signature?.Key;
        }

        using var package = PackageReader.Open(new DiskFile(path), Path.GetFileName(path));
        return SignatureProof.Read(package, package.Folder + "manifest.sig").Signature?.Key;
    }

    private static ProofReport OfPackage(string path, LoadedSession loaded, Preparation? preparation, ProofTerms terms, Action<WorkProgress> report, CancellationToken stop)
    {
        using var reader = PackageReader.Open(new DiskFile(path), Path.GetFileName(path));
        UnitedPackage.RefuseAlone(reader, Path.GetFileName(path));
        var session = ProvenanceIn(reader) is { } provenance && provenance != loaded.Session.Provenance ? loaded.Session with { Provenance = provenance } : loaded.Session;
        var plan = DeliveryPlan.Make(session, preparation ?? reader.Manifest.Preparation, new SoundEndDictionary(session, loaded.Media, stop));
        return PackageProof.Prove(new DiskFile(path), Path.GetFileName(path), plan, loaded.Media, report, stop, terms with { ProvenanceOfPackage = !ReferenceEquals(session, loaded.Session) });
    }

    // A session that was brought in by a room says which files it came from; the same session read from its folder says it otherwise, or not at all.
    private static ValueArray<Provenance>? ProvenanceIn(PackageReader package)
    {
        if (package.Manifest.Files.FirstOrDefault(f => f.Plan.Kind == PlannedKind.SessionDocument) is not { } document || !package.Has(document.Plan.Path))
        {
            return null;
        }

        try
        {
            using var bytes = new MemoryStream(package.Read(document.Plan.Path));
            return SessionDocumentReader.Read(bytes, document.Plan.Path).Provenance;
        }
        catch (BadInputException)
        {
            // The proof itself will say what is wrong with it.
            return null;
        }
    }

    // A package that was unpacked is put together again as it was; its own folder does too.
    private static T AsZip<T>(string path, string scratch, Func<string, T> read)
    {
        if (!Directory.Exists(path))
        {
            return File.Exists(path) ? read(path) : throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file.", "Check the path.");
        }

        Directory.CreateDirectory(scratch);
        var zip = Path.Combine(scratch, $"{Guid.NewGuid():N}.zip");
        try
        {
            Zip(path, zip);
            return read(zip);
        }
        finally
        {
            File.Delete(zip);
        }
    }

    // The package's own folder may be called otherwise by now; its manifest says what it was called.
    private static void Zip(string folder, string zip)
    {
        var manifest = Path.Combine(folder, "manifest.json");
        var root = File.Exists(manifest) && Manifest.FromJson(File.ReadAllBytes(manifest), manifest).Files is [{ Plan.Path: var first }, ..] ? first.Split('/')[0] : null;
        using var archive = ZipFile.Open(zip, ZipArchiveMode.Create);
        var (files, links) = FolderFiles.Of(Path.GetFullPath(folder));
        if (links.Count > 0)
        {
            throw new BadInputException(ArchiveCodes.Link, Path.GetRelativePath(Path.GetFullPath(folder), links[0]), string.Empty, "It is a link, and a package has none.", "Ask for the package again.");
        }

        foreach (var file in files)
        {
            var name = Path.GetRelativePath(Path.GetFullPath(folder), file).Replace('\\', '/');
            archive.CreateEntryFromFile(file, root is null ? name : $"{root}/{name}", CompressionLevel.NoCompression);
        }
    }

    private static ProofReport OfClips(string path, LoadedSession loaded, ProofTerms terms, CancellationToken stop)
    {
        var name = Path.GetFileName(path);
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        byte[]? choices;
        using (var stream = File.OpenRead(path))
        {
            choices = SessionDocuments.Open(stream, name).ReadSession().Comments.TryGetValue(ClipsFile.ChoicesComment, out var said) ? System.Text.Encoding.UTF8.GetBytes(said) : null;
        }

        var plan = SessionConvert.PlanOf(loaded, SessionConvert.Prepared(loaded, path, choices, name));
        if (plan.Clips is null)
        {
            throw new BadInputException(PackageCodes.NoAudio, name, string.Empty, "The session has no audio track that could be in it.", "Check that it is the session that the file was made from.");
        }

        var opener = new MediaOpener(loaded.Media, loaded.Session.Rate);
        var proof = ClipsProof.Prove(plan, SessionConvert.PartOf(plan, path), path, name, medium => Beside(folder, medium), opener, loaded.Media, stop);
        return GapRows.With(ProofReport.Make(name, DateTimeOffset.UtcNow, proof.Rows, proof.Dots, []), GapsOf(plan, loaded, terms, stop));
    }

    private static FileStream? Beside(string folder, string medium)
    {
        var path = Path.Combine(folder, "media", medium);
        return SafePath.IsSafe(medium) && File.Exists(path) ? File.OpenRead(path) : null;
    }

    private static ProofReport OfDocument(string path, LoadedSession loaded, ProofTerms terms, string scratch, CancellationToken stop)
    {
        var document = SessionLoader.Load(path, scratch);
        var found = document.Session;

        // Media lie in the document's own folder now; their names before that are no difference.
        var names = found.Media.ToDictionary(m => m.Id, m => m.FileName);
        var meant = loaded.Session with { Media = ValueArray.Create<Media>([.. loaded.Session.Media.Select(m => m with { FileName = names.GetValueOrDefault(m.Id, m.FileName) })]) };
        var report = ProofReport.Make(Path.GetFileName(path), DateTimeOffset.UtcNow, SessionComparison.Compare(meant, found), [], []);

        // The document's clips go with the media that lie beside it.
        return GapRows.With(report, GapsOf(SessionConvert.PlanOf(document, SessionConvert.AllAsClips(found)), document, terms, stop));
    }

    private static SoundGaps GapsOf(DeliveryPlan plan, LoadedSession loaded, ProofTerms terms, CancellationToken stop) =>
        plan.GapsWith(MediaFaults.Of(plan.Session, loaded.Media, stop)).Accepting(terms.Accepted);
}
