using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Incoming;

/// <summary>Recognises packages of this program among files, by their manifests.</summary>
public static class PackageSight
{
    private const long LargestRecord = 64L << 20;
    private const int LongestWord = 200;
    private const int MostGaps = 200;

    /// <summary>The packages among some files. What is called like a manifest and is none is no package.</summary>
    /// <param name="names">Of the files, with their folders.</param>
    /// <param name="open">Opens one of them; null where it cannot be read.</param>
    public static IReadOnlyList<IncomingPackage> Of(IReadOnlyCollection<string> names, Func<string, Stream?> open)
    {
        var there = names.ToHashSet();
        return [.. names.Where(n => n[(n.LastIndexOf('/') + 1)..] == IncomingPackage.ManifestName).Select(n => Read(n[..^IncomingPackage.ManifestName.Length], name => there.Contains(name) ? Bytes(open, name) : null)).OfType<IncomingPackage>()];
    }

    private static IncomingPackage? Read(string folder, Func<string, byte[]?> bytes)
    {
        if (bytes(folder + IncomingPackage.ManifestName) is not { } own || !Encoding.UTF8.GetString(own.AsSpan(0, Math.Min(own.Length, 256))).Contains("lyrotransPackage", StringComparison.Ordinal))
        {
            return null;
        }

        Manifest manifest;
        try
        {
            manifest = Manifest.FromJson(own, folder + IncomingPackage.ManifestName);
        }
        catch (BadInputException)
        {
            // Damaged, or of a newer version: its files come in as any others do.
            return null;
        }

        var (key, problem) = Signer(manifest, own, bytes(folder + "manifest.sig"));
        var standIns = manifest.Preparation.Tracks.Where(c => c.Treatment == Treatment.NotesAndPrint).Select(c => c.TrackId).ToHashSet();
        return new IncomingPackage
        {
            Folder = folder,
            Manifest = Convert.ToHexStringLower(SHA256.HashData(own)),
            Session = Short(manifest.SessionName),
            Made = manifest.Stamp?.Made,
            RangeStart = manifest.RangeStart,
            StartTimecode = Short(manifest.StartTimecode),
            Key = key,
            SignatureProblem = problem,
            ReplyTo = manifest.Preparation.ReplyTo,
            Follows = Followed(bytes(folder + FollowUp.ListName), own),
            Gaps = [.. manifest.Gaps.Take(MostGaps).Select(g => $"{Short(g.Name)}{(g.IsAccepted ? " (accepted)" : string.Empty)}")],
            Files = [.. manifest.Files.Select(f => new IncomingFile(Inside(f.Plan.Path), f.Plan.Kind, f.Sha256, f.Bytes, f.Plan.Kind == PlannedKind.FromZero && standIns.Contains(f.Plan.TrackId ?? string.Empty)))],
        };
    }

    private static (string? Key, string? Problem) Signer(Manifest manifest, byte[] bytes, byte[]? signature)
    {
        if (signature is null)
        {
            return (null, manifest.IsSigned ? "the signature is missing" : "it was made before packages were signed");
        }

        try
        {
            var read = DetachedSignature.FromJson(signature, "manifest.sig");
            return read.IsOf(bytes) ? (Convert.ToHexStringLower(read.Key.Key), null) : (null, "the signature is of other bytes, or by another key than it says");
        }
        catch (BadInputException problem)
        {
            return (null, problem.Finding.Text);
        }
    }

    // A list of another package says nothing of this one.
    private static string? Followed(byte[]? list, byte[] manifest)
    {
        try
        {
            return list is not null && FollowUp.FromJson(list, FollowUp.ListName) is var read && read.Makes == Convert.ToHexStringLower(SHA256.HashData(manifest)) ? read.Follows : null;
        }
        catch (BadInputException)
        {
            return null;
        }
    }

    // What a stranger's package says of itself is shown, and stands in the words of a revision.
    private static string Short(string text) => text.Length <= LongestWord ? text : text[..LongestWord] + "…";

    private static string Inside(string path) => path[(path.IndexOf('/', StringComparison.Ordinal) + 1)..];

    private static byte[]? Bytes(Func<string, Stream?> open, string name)
    {
        using var stream = open(name);
        if (stream is null || stream.Length > LargestRecord)
        {
            return null;
        }

        var bytes = new byte[stream.Length];
        stream.ReadExactly(bytes);
        return bytes;
    }
}
