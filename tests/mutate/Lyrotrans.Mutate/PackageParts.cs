using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Mutate;

/// <summary>The files of a package in memory, to be altered and put together again as the program itself would.</summary>
/// <param name="Files">In their order.</param>
/// <param name="Stamp">The date of every entry.</param>
/// <param name="Key">Signs its manifest again after an alteration.</param>
internal sealed record PackageParts(IReadOnlyList<(string Path, byte[] Bytes)> Files, DateTimeOffset Stamp, SigningKey Key)
{
    public const string SignatureName = "manifest.sig";

    public const string ManifestName = "manifest.json";
    public const string SumsName = "SHA256SUMS";
    private const string SheetName = "Session_sheet.html";

    public static PackageParts Read(string zip, PackageMaker maker)
    {
        using var archive = ZipFile.OpenRead(zip);
        var parts = new PackageParts([.. archive.Entries.Select(e => (e.FullName, Bytes(e)))], maker.Made, maker.Key);
        return parts with { SignedAs = parts[SignatureName] };
    }

    /// <summary>The signature before anything was altered: one that was altered itself stays so.</summary>
    public byte[] SignedAs { get; init; } = [];

    /// <summary>Signed with another key.</summary>
    public PackageParts SignedBy(SigningKey key)
    {
        var signed = (this with { Key = key }).Signed();
        return signed with { SignedAs = signed[SignatureName] };
    }

    private PackageParts Signed() => Files.FirstOrDefault(f => f.Path.EndsWith(SignatureName, StringComparison.Ordinal)) is ({ } path, { } bytes) && bytes.AsSpan().SequenceEqual(SignedAs)
        ? With(path, DetachedSignature.Sign(this[ManifestName], Key).ToJson())
        : this;

    public byte[] this[string ending] => Files.First(f => f.Path.EndsWith(ending, StringComparison.Ordinal)).Bytes;

    public PackageParts With(string path, byte[] bytes) => this with { Files = [.. Files.Select(f => f.Path == path ? (path, bytes) : f)] };

    public PackageParts Without(string path) => this with { Files = [.. Files.Where(f => f.Path != path)] };

    /// <summary>As another machine would have stamped it.</summary>
    public PackageParts OfAnotherMachine()
    {
        var manifest = Files.First(f => f.Path.EndsWith(ManifestName, StringComparison.Ordinal));
        var stamped = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(manifest.Bytes).Replace("\"processor\": \"", "\"processor\": \"other than ", StringComparison.Ordinal));
        var sums = Files.First(f => f.Path.EndsWith(SumsName, StringComparison.Ordinal));
        return With(manifest.Path, stamped).With(sums.Path, Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(sums.Bytes).Replace(Hash(manifest.Bytes), Hash(stamped), StringComparison.Ordinal))).SignedBy(Key);
    }

    /// <summary>With every hash and size made good and signed again, so that only the contents can give an alteration away.</summary>
    public PackageParts Settled()
    {
        if (Files.FirstOrDefault(f => f.Path.EndsWith(ManifestName, StringComparison.Ordinal)).Path is not { } manifestPath)
        {
            return this;
        }

        // The sheet says hashes of files, the manifest of the sheet too, and the checksums of the manifest too.
        var root = manifestPath[..^ManifestName.Length];
        var sheet = Hashes(this, manifestPath).Aggregate(this, (p, h) => p.Replaced(root + SheetName, h.Before, h.After));
        var manifest = Hashes(sheet, manifestPath).Aggregate(sheet, (p, h) => p.Replaced(manifestPath, Said(h.Before, h.BytesBefore), Said(h.After, h.BytesAfter)));
        var sums = Hashes(sheet, manifestPath).Aggregate(manifest, (p, h) => p.Replaced(root + SumsName, h.Before, h.After));
        return sums.Replaced(root + SumsName, Hash(this[ManifestName]), Hash(manifest[ManifestName])).Signed();
        static string Said(string hash, string bytes) => $"\"sha256\": \"{hash}\",\n      \"bytes\": {bytes}";
    }

    /// <summary>What the manifest says of each file, and what is so.</summary>
    private static List<(string Before, string After, string BytesBefore, string BytesAfter)> Hashes(PackageParts parts, string manifestPath)
    {
        var byPath = parts.Files.DistinctBy(f => f.Path).ToDictionary(f => f.Path, f => f.Bytes);
        return TryParse(Encoding.UTF8.GetString(byPath[manifestPath]))?["files"] is not JsonArray files ? []
            : [.. files.OfType<JsonObject>().Where(f => f["path"] is not null && f["sha256"] is not null && byPath.ContainsKey(f["path"]!.ToString()))
                .Select(f => (f["sha256"]!.ToString(), Hash(byPath[f["path"]!.ToString()]), $"{f["bytes"]}", $"{byPath[f["path"]!.ToString()].Length}"))];
    }

    private PackageParts Replaced(string path, string before, string after) =>
        before == after || !Files.Any(f => f.Path == path) ? this : With(path, Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Files.First(f => f.Path == path).Bytes).Replace(before, after, StringComparison.Ordinal)));

    public byte[] Zip()
    {
        using var output = new MemoryStream();
        var zip = new StoredZip(output, Stamp);
        foreach (var (path, bytes) in Files)
        {
            using var entry = path.EndsWith(".aaf", StringComparison.Ordinal) || path.EndsWith(".omf", StringComparison.Ordinal) || path.EndsWith(".otio", StringComparison.Ordinal) || path.Contains("/media/", StringComparison.Ordinal)
                ? zip.Append(path) : zip.Reserve(path, bytes.Length);
            entry.Write(bytes);
            entry.Finish();
        }

        zip.Finish();
        return output.ToArray();
    }

    private static JsonObject? TryParse(string text)
    {
        try
        {
            return JsonNode.Parse(text) as JsonObject;
        }
        catch (System.Text.Json.JsonException)
        {
            return null;
        }
    }

    private static byte[] Bytes(ZipArchiveEntry entry)
    {
        using var stream = entry.Open();
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        return copy.ToArray();
    }

    private static string Hash(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
