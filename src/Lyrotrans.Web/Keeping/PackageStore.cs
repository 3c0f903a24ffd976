using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Keeping;

/// <summary>
/// Packages, each with its proof and the levels of its sound files, by the build that made it. A package lies here as its files, each by its SHA-256, and the list of them; the zip
/// that people fetch is put together while it is sent. A package is there only with its proof.
/// </summary>
public sealed class PackageStore(IObjectStore objects, FileStore files)
{
    /// <summary>The zip; null where the build left none.</summary>
    /// <exception cref="InvalidDataException">The list of its files is damaged.</exception>
    public IStoredFile? Package(Guid build)
    {
        // Packages of before they were kept as files.
        if (objects.Find(Zip(build)) is { } zip)
        {
            return zip;
        }

        return Kept(build)?.Zip;
    }

    /// <summary>A package and its files; null where the build left none, or one of before packages were kept as files.</summary>
    /// <exception cref="InvalidDataException">The list of its files is damaged.</exception>
    public KeptPackage? Kept(Guid build) => Listed(build, ContentsName(build));

    /// <summary>A package and its files, to hold something to it.</summary>
    /// <exception cref="BadInputException">It is not kept any more.</exception>
    public KeptPackage ToCompare(PackageBuild build) => Kept(build.Id)
        ?? throw new BadInputException(ArrivingCodes.NothingSent, build.FileName ?? string.Empty, string.Empty, "The package is not kept any more, so there is nothing to compare with.", "It has to be built again.");

    /// <summary>What a receiver is sent of a package: all of it, or of a follow-up what is new or changed, with its list.</summary>
    /// <inheritdoc cref="Kept"/>
    public KeptPackage? Sent(PackageBuild build) => build.FollowsId is null ? Kept(build.Id) : Kept(build.Id) is null ? null : Listed(build.Id, SentName(build.Id));

    private KeptPackage? Listed(Guid build, string name)
    {
        if (objects.Find(name) is not { } list)
        {
            return null;
        }

        using var stream = list.Open();
        var contents = PackageContents.FromJson(stream);
        IStoredFile Part(string sha256) => objects.Find(PartName(build, sha256)) ?? throw new IOException($"A file of the package of build {build} is gone: {sha256}.");
        return new KeptPackage(build, new PackageZip(contents, Part, files.Scratch), [.. contents.Files.Select(f => new KeptFile(f.Path, f.Bytes, f.Sha256, new LaterFile(f.Bytes, () => Part(f.Sha256))))]);
    }

    /// <summary>How a sound file of a package looks, as it was kept; null where nobody asked for it yet.</summary>
    public IStoredFile? Outline(Guid build, string sha256) => objects.Find(OutlineName(build, sha256));

    /// <summary>Keeps how a sound file of a package looks.</summary>
    public void KeepOutline(Guid build, string sha256, byte[] outline) => objects.Put(OutlineName(build, sha256), output => output.Write(outline));

    /// <summary>Landmarks of what was sent with it; null where they were not made yet.</summary>
    public IStoredFile? Marks(Guid build) => objects.Find(MarksName(build));

    /// <summary>Keeps landmarks of a package, as long as it is there.</summary>
    public void KeepMarks(Guid build, Action<Stream> write)
    {
        objects.Put(MarksName(build), write);
        if (objects.Find(ContentsName(build)) is null)
        {
            // It was removed meanwhile.
            objects.Delete(MarksName(build));
        }
    }

    /// <summary>The proof as JSON; null where the build left none.</summary>
    public IStoredFile? Proof(Guid build) => objects.Find(ProofName(build));

    /// <summary>Null for a package of before levels were kept.</summary>
    public IStoredFile? Levels(Guid build) => objects.Find(LevelsName(build));

    /// <summary>Keeps a package with its proof and levels; the list of its files comes last, so that it is never there without them.</summary>
    /// <param name="build">What made it.</param>
    /// <param name="package">Finished; its files are gone from their folder then.</param>
    /// <param name="proof">As JSON.</param>
    /// <param name="levels">As they are kept.</param>
    /// <param name="followUp">What is sent of it; null where that is all of it.</param>
    public void Keep(Guid build, FolderPackage package, byte[] proof, byte[] levels, FollowUpPackage? followUp = null)
    {
        // A process that was killed here left some of it.
        Remove(build);
        objects.Put(ProofName(build), output => output.Write(proof));
        KeepLevels(build, levels);
        foreach (var (sha256, path) in package.Places)
        {
            objects.Take(PartName(build, sha256), path);
        }

        foreach (var (sha256, bytes) in followUp?.Own ?? new Dictionary<string, byte[]>())
        {
            objects.Put(PartName(build, sha256), output => output.Write(bytes));
        }

        if (followUp is not null)
        {
            objects.Put(SentName(build), output => output.Write(followUp.Contents.ToJson()));
        }

        objects.Put(ContentsName(build), output => output.Write(package.Contents.ToJson()));
    }

    /// <summary>Keeps the levels of a package of before levels were kept.</summary>
    public void KeepLevels(Guid build, byte[] levels) => objects.Put(LevelsName(build), output => output.Write(levels));

    /// <summary>Leaves nothing of a build.</summary>
    public void Remove(Guid build)
    {
        foreach (var name in new[] { ContentsName(build), SentName(build), Zip(build), LevelsName(build), ProofName(build), MarksName(build) })
        {
            objects.Delete(name);
        }

        objects.DeleteAll(Parts(build));
        objects.DeleteAll(Outlines(build));
    }

    private static string Zip(Guid build) => $"packages/{build:N}.zip";

    private static string ContentsName(Guid build) => $"packages/{build:N}.contents.json";

    private static string SentName(Guid build) => $"packages/{build:N}.sent.json";

    private static string Parts(Guid build) => $"packages/{build:N}";

    private static string PartName(Guid build, string sha256) => $"{Parts(build)}/{sha256}";

    private static string Outlines(Guid build) => $"packages/{build:N}.outlines";

    private static string OutlineName(Guid build, string sha256) => $"{Outlines(build)}/{sha256}";

    private static string ProofName(Guid build) => $"packages/{build:N}.proof.json";

    private static string MarksName(Guid build) => $"packages/{build:N}.marks";

    private static string LevelsName(Guid build) => $"packages/{build:N}.levels.json";
}
