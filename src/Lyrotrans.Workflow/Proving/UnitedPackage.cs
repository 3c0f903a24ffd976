using System.IO.Compression;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Following;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>A package and its follow-up as the one package that both are together.</summary>
public static class UnitedPackage
{
    /// <summary>The list of a follow-up, which is as its maker signed it; null where a package is none, or has all files of what it makes beside it.</summary>
    /// <param name="package">What may be one.</param>
    /// <param name="name">For people.</param>
    /// <exception cref="BadInputException">The list was changed, or cannot be read.</exception>
    public static FollowUp? ListOf(PackageReader package, string name)
    {
        var (path, signed) = (package.Folder + FollowUp.ListName, package.Folder + FollowUp.SignatureName);
        if (!package.Has(path) || package.Manifest.Files.All(f => package.Has(f.Plan.Path)))
        {
            return null;
        }

        var bytes = package.Read(path);
        var list = FollowUp.FromJson(bytes, $"{name}, {FollowUp.ListName}");
        var signature = package.Has(signed) ? DetachedSignature.FromJson(package.Read(signed), $"{name}, {FollowUp.SignatureName}") : null;
        var maker = SignatureProof.Read(package, package.Folder + "manifest.sig").Signature;
        return signature?.IsOf(bytes) == true && maker?.Key.Equals(signature.Key) == true && list.Makes == Sum(package.ManifestBytes) ? list
            : throw new BadInputException(FollowingCodes.Changed, name, FollowUp.ListName, "The list of the follow-up is not as its maker signed it.", "Ask for the follow-up again.");
    }

    /// <summary>Refuses a follow-up that was given without what it follows.</summary>
    /// <exception cref="BadInputException">It is one.</exception>
    public static void RefuseAlone(PackageReader package, string name)
    {
        if (ListOf(package, name) is { } list)
        {
            throw new BadInputException(FollowingCodes.Alone, name, string.Empty, $"It is a follow-up to the package whose manifest has the SHA-256 {list.Follows}.", "Give that package too (--with), or put both into one folder.");
        }
    }

    /// <summary>Writes both as one zip.</summary>
    /// <param name="before">The package before.</param>
    /// <param name="followUp">What follows it.</param>
    /// <param name="name">Of the follow-up, for people.</param>
    /// <param name="output">Gets the zip.</param>
    /// <param name="stop">Heeded between files.</param>
    /// <exception cref="BadInputException">It is no follow-up, or one to another package, or a file that it leaves out is not there as it was.</exception>
    public static void Write(IStoredFile before, IStoredFile followUp, string name, Stream output, CancellationToken stop)
    {
        using var then = PackageReader.Open(before, "the package before");
        using var now = PackageReader.Open(followUp, name);
        var list = ListOf(now, name) ?? throw new BadInputException(FollowingCodes.None, name, string.Empty, "It is no follow-up, so it needs no other package.", "Give it alone.");
        if (list.Follows != Sum(then.ManifestBytes))
        {
            throw new BadInputException(FollowingCodes.Other, name, string.Empty, $"It follows the package whose manifest has the SHA-256 {list.Follows}, and the one that was given has {Sum(then.ManifestBytes)}.", "Give the package that it follows.");
        }

        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        foreach (var file in list.Files.Where(f => f.State != FollowedState.Gone))
        {
            stop.ThrowIfCancellationRequested();
            var from = FollowUp.IsSent(file) ? now : then;
            if (!from.Has(file.Path) || (file.State == FollowedState.AsBefore && from.Sha256Of(file.Path) != file.Sha256))
            {
                throw new BadInputException(FollowingCodes.NotAsBefore, name, file.Path, FollowUp.IsSent(file) ? "It should be in the follow-up and is not." : "It was not sent again, and is not in the package before as it was then.", FollowUp.IsSent(file) ? "Ask for the follow-up again." : "Ask for the package before again.");
            }

            using var entry = zip.CreateEntry(file.Path, CompressionLevel.NoCompression).Open();
            from.CopyTo(file.Path, entry);
        }

        // What is in it and on no list is for the check to find.
        foreach (var path in now.Paths.Where(p => list.Files.All(f => f.Path != p) && !FollowUp.OwnNames.Contains(Path.GetFileName(p))))
        {
            using var entry = zip.CreateEntry(path, CompressionLevel.NoCompression).Open();
            now.CopyTo(path, entry);
        }
    }

    private static string Sum(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
