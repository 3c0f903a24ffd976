using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Mutate;

/// <summary>The files of a package in memory, to be altered and put together again as the program itself would.</summary>
/// <param name="Files">In their order.</param>
/// <param name="Stamp">The date of every entry.</param>
internal sealed record PackageParts(IReadOnlyList<(string Path, byte[] Bytes)> Files, DateTimeOffset Stamp)
{
    public const string ManifestName = "manifest.json";
    public const string SumsName = "SHA256SUMS";

    public static PackageParts Read(string zip, DateTimeOffset stamp)
    {
        using var archive = ZipFile.OpenRead(zip);
        return new PackageParts([.. archive.Entries.Select(e => (e.FullName, Bytes(e)))], stamp);
    }

    public byte[] this[string ending] => Files.First(f => f.Path.EndsWith(ending, StringComparison.Ordinal)).Bytes;

    public PackageParts With(string path, byte[] bytes) => this with { Files = [.. Files.Select(f => f.Path == path ? (path, bytes) : f)] };

    public PackageParts Without(string path) => this with { Files = [.. Files.Where(f => f.Path != path)] };

    /// <summary>With every hash and size made good, so that only the contents can give an alteration away.</summary>
    public PackageParts Settled()
    {
        var byPath = Files.ToDictionary(f => f.Path, f => f.Bytes);
        var manifestPath = Files.First(f => f.Path.EndsWith(ManifestName, StringComparison.Ordinal)).Path;
        var root = manifestPath[..^ManifestName.Length];
        var text = Encoding.UTF8.GetString(byPath[manifestPath]);
        var sums = byPath.TryGetValue(root + SumsName, out var said) ? Encoding.UTF8.GetString(said) : string.Empty;
        if (TryParse(text) is { } manifest && manifest["files"] is JsonArray files)
        {
            foreach (var file in files.OfType<JsonObject>())
            {
                if (file["path"]?.ToString() is { } path && byPath.TryGetValue(path, out var bytes) && path != root + SumsName)
                {
                    var (before, after) = (file["sha256"]!.ToString(), Hash(bytes));
                    text = text.Replace($"\"sha256\": \"{before}\",\n      \"bytes\": {file["bytes"]}", $"\"sha256\": \"{after}\",\n      \"bytes\": {bytes.Length}", StringComparison.Ordinal);
                    sums = sums.Replace(before, after, StringComparison.Ordinal);
                }
            }
        }

        var settled = With(manifestPath, Encoding.UTF8.GetBytes(text));
        sums = sums.Replace(Hash(byPath[manifestPath]), Hash(settled[ManifestName]), StringComparison.Ordinal);
        return said is null ? settled : settled.With(root + SumsName, Encoding.UTF8.GetBytes(sums));
    }

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
