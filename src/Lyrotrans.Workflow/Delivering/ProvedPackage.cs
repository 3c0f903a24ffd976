using System.Text.Json;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Delivering;

/// <summary>A package that was built, read back and proved, with the levels of its sound files. It lies in a scratch folder until it is kept elsewhere; what is left there goes when this is closed.</summary>
public sealed class ProvedPackage : IDisposable
{
    private const double BuildTakes = 0.55;
    private const double ProofTakes = 0.37;
    private const double LevelsBegin = 0.92;
    private readonly string _folder;

    private ProvedPackage(string folder) => _folder = folder;

    /// <summary>Its files.</summary>
    public required FolderPackage Package { get; init; }

    /// <summary>What it is called for people.</summary>
    public required string FileName { get; init; }

    /// <summary>Of the zip that is put together of it.</summary>
    public required long Bytes { get; init; }

    /// <summary>Of its manifest, which has the sums of all else; in lower-case hex.</summary>
    public required string ManifestSha256 { get; init; }

    /// <summary>What is in it.</summary>
    public required Manifest Manifest { get; init; }

    /// <summary>What the proof found.</summary>
    public required ProofReport Report { get; init; }

    /// <summary>The report as JSON.</summary>
    public byte[] Proof => JsonSerializer.SerializeToUtf8Bytes(Report, ProofJson.Options);

    /// <summary>The levels of its sound files, as they are kept.</summary>
    public required byte[] Levels { get; init; }

    /// <param name="plan">What to build.</param>
    /// <param name="media">The session's media, with the scratch folder.</param>
    /// <param name="maker">The date of its files, and who signs.</param>
    /// <param name="known">The room's keys, and what each is called.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks; nothing is left then.</param>
    /// <exception cref="IOException">There is no room for it, or it cannot be written.</exception>
    /// <exception cref="Core.Errors.BadInputException">A medium cannot be read.</exception>
    public static ProvedPackage Make(DeliveryPlan plan, IMediaFiles media, PackageMaker maker, IReadOnlyDictionary<PublicKey, string> known, Action<WorkProgress> report, CancellationToken stop)
    {
        var folder = Path.Combine(media.Scratch, $"{Guid.NewGuid():N}.package");
        try
        {
            var name = $"{plan.Root}.zip";
            var (manifest, package) = PackageFile.BuildInto(plan, media, folder, maker, p => report(p with { Fraction = p.Fraction * BuildTakes }), stop);
            var zip = package.Zip(media.Scratch);
            var proof = PackageProof.Prove(zip, name, plan, media, p => report(new WorkProgress(BuildTakes + (p.Fraction * ProofTakes), $"proof: {p.Doing}")), stop, ProofTerms.Own with { Known = known, MadeHere = true });
            report(new WorkProgress(LevelsBegin, "measuring levels"));
            var levels = LevelFiles.Write(PackageLevels.Measure(zip, plan, media.Scratch, stop));
            var sum = package.Contents.Sha256Of(plan.Files.Single(f => f.Kind == PlannedKind.Manifest).Path);
            return new ProvedPackage(folder) { Package = package, FileName = name, Bytes = zip.Length, ManifestSha256 = sum, Manifest = manifest, Report = proof, Levels = levels };
        }
        catch
        {
            Remove(folder);
            throw;
        }
    }

    public void Dispose() => Remove(_folder);

    private static void Remove(string folder)
    {
        if (Directory.Exists(folder))
        {
            Directory.Delete(folder, recursive: true);
        }
    }
}
