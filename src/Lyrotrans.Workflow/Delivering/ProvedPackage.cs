using System.Security.Cryptography;
using System.Text.Json;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Delivering;

/// <summary>A package that was built, read back and proved, with the levels of its sound files. It lies in a scratch folder until it is kept elsewhere; what is left there goes when this is closed.</summary>
public sealed class ProvedPackage : IDisposable
{
    private const double BuildTakes = 0.55;
    private const double ProofBegins = 0.6;
    private const double ProofTakes = 0.3;
    private const double LevelsBegin = 0.92;

    private ProvedPackage(string path) => Path = path;

    /// <summary>The zip, on a local disk.</summary>
    public string Path { get; }

    /// <summary>What it is called for people.</summary>
    public required string FileName { get; init; }

    /// <summary>Of the zip.</summary>
    public required long Bytes { get; init; }

    /// <summary>Of the zip, in lower-case hex.</summary>
    public required string Sha256 { get; init; }

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
        var path = System.IO.Path.Combine(media.Scratch, $"{Guid.NewGuid():N}.zip");
        try
        {
            var name = $"{plan.Root}.zip";
            var zip = new DiskFile(path);
            var manifest = PackageFile.Build(plan, media, path, maker, p => report(p with { Fraction = p.Fraction * BuildTakes }), stop);
            report(new WorkProgress(BuildTakes, "hashing the package"));
            var sha256 = HashOf(zip, stop);
            var proof = PackageProof.Prove(zip, name, plan, media, p => report(new WorkProgress(ProofBegins + (p.Fraction * ProofTakes), $"proof: {p.Doing}")), stop, ProofTerms.Own with { Known = known, MadeHere = true });
            report(new WorkProgress(LevelsBegin, "measuring levels"));
            var levels = LevelFiles.Write(PackageLevels.Measure(zip, plan, media.Scratch, stop));
            return new ProvedPackage(path) { FileName = name, Bytes = zip.Length, Sha256 = sha256, Manifest = manifest, Report = proof, Levels = levels };
        }
        catch
        {
            File.Delete(path);
            throw;
        }
    }

    public void Dispose() => File.Delete(Path);

    private static string HashOf(DiskFile zip, CancellationToken stop)
    {
        using var stream = zip.Open();
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[1 << 18];
        int read;
        while ((read = stream.Read(buffer)) > 0)
        {
            stop.ThrowIfCancellationRequested();
            hash.AppendData(buffer, 0, read);
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }
}
