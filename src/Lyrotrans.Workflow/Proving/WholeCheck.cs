using System.Text;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Checks a package without its session: every file against the manifest, and the manifest against its signature.</summary>
public static class WholeCheck
{
    /// <param name="zip">The package.</param>
    /// <param name="name">For people.</param>
    /// <param name="known">Keys that are known here, and whose each is.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between files.</param>
    /// <exception cref="Core.Errors.BadInputException">It cannot be read at all.</exception>
    public static WholeReport Check(IStoredFile zip, string name, IReadOnlyDictionary<PublicKey, string> known, Action<WorkProgress> report, CancellationToken stop)
    {
        using var package = PackageReader.Open(zip, name);
        UnitedPackage.RefuseAlone(package, name);
        var manifest = package.Manifest;
        var root = package.Folder;
        var rows = Files(package, report, stop).Concat(Listing(package, root)).ToList();
        var signature = SignatureProof.Read(package, root + "manifest.sig");
        rows.AddRange(manifest.IsSigned ? [signature.Row(package.ManifestBytes, known, mustBeKnown: false)] : []);
        var signer = manifest.IsSigned ? signature.Signature?.Key : null;
        return new WholeReport(name, rows, signer, signer is null ? null : known.GetValueOrDefault(signer), [.. manifest.Gaps]);
    }

    private static IEnumerable<ProofRow> Files(PackageReader package, Action<WorkProgress> report, CancellationToken stop)
    {
        var all = package.Manifest.Files;
        for (var i = 0; i < all.Count; i++)
        {
            stop.ThrowIfCancellationRequested();
            var file = all[i];
            report(new WorkProgress((double)i / all.Count, $"reading {Path.GetFileName(file.Plan.Path)}"));
            if (!package.Has(file.Plan.Path))
            {
                yield return new ProofRow(file.Plan.Path, "file", "there", "missing", "missing", false);
                continue;
            }

            var (found, bytes) = (package.Sha256Of(file.Plan.Path), package.SizeOf(file.Plan.Path));
            var same = found == file.Sha256 && bytes == file.Bytes;
            yield return new ProofRow(file.Plan.Path, "SHA-256", file.Sha256, found, same ? "0" : "differs", same);
        }
    }

    // Besides what the manifest names there is the manifest itself, its signature, and the same sums for other programs.
    private static IEnumerable<ProofRow> Listing(PackageReader package, string root)
    {
        var named = package.Manifest.Files.Select(f => f.Plan.Path).ToHashSet();
        string[] beside = [root + "manifest.json", root + "SHA256SUMS", .. FollowUp.OwnNames.Select(n => root + n), .. package.Manifest.IsSigned ? [root + "manifest.sig"] : Array.Empty<string>()];
        foreach (var extra in package.Paths.Where(p => !named.Contains(p) && !beside.Contains(p)))
        {
            yield return new ProofRow(extra, "file", "not there", "there", "one too many", false);
        }

        foreach (var twice in package.Paths.GroupBy(p => p).Where(g => g.Count() > 1))
        {
            yield return new ProofRow(twice.Key, "file", "once", $"{twice.Count()} times", "twice", false);
        }

        if (package.Has(root + "SHA256SUMS"))
        {
            var sums = Encoding.UTF8.GetString(package.Read(root + "SHA256SUMS"));
            var meant = string.Concat(package.Manifest.Files.Select(f => (f.Sha256, f.Plan.Path)).Append((package.Sha256Of(root + "manifest.json"), root + "manifest.json"))
                .Select(f => $"{f.Item1}  {f.Item2[root.Length..]}\n"));
            yield return new ProofRow(root + "SHA256SUMS", "sums", "those of the manifest", sums == meant ? "those of the manifest" : "others", sums == meant ? "0" : "differs", sums == meant);
        }
        else
        {
            yield return new ProofRow(root + "SHA256SUMS", "file", "there", "missing", "missing", false);
        }

        yield return new ProofRow("Package", "files", Digits.Grouped(named.Count), Digits.Grouped(package.Manifest.Files.Count), "0", named.Count == package.Manifest.Files.Count);
    }
}
