using System.IO.Compression;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Reads a package and nothing else.</summary>
public sealed class PackageReader : IDisposable
{
    private const string ManifestName = "manifest.json";
    private const long LargestDocument = 512L << 20;
    private readonly ZipArchive _zip;
    private readonly string _name;
    private readonly IStoredFile _file;
    private readonly IReadOnlyDictionary<string, (long Offset, long Length)> _stored;

    private PackageReader(ZipArchive zip, IStoredFile file, string name, string manifestPath, Manifest manifest, byte[] manifestBytes)
    {
        _file = file;
        using (var stream = file.Open())
        {
            _stored = ZipDirectory.Stored(stream);
        }

        _zip = zip;
        _name = name;
        Manifest = manifest;
        Folder = manifestPath[..^ManifestName.Length];
        ManifestBytes = manifestBytes;
    }

    /// <summary>The folder that the manifest lies in, with a <c>/</c> at its end; empty where it lies in none.</summary>
    public string Folder { get; }

    /// <summary>What the package says of itself.</summary>
    public Manifest Manifest { get; }

    /// <summary>As they lie in it.</summary>
    public byte[] ManifestBytes { get; }

    /// <summary>The paths of all entries, as often as they are there.</summary>
    public IEnumerable<string> Paths => _zip.Entries.Select(e => e.FullName);

    /// <exception cref="BadInputException">Not a zip, damaged, or without a manifest.</exception>
    public static PackageReader Open(IStoredFile file, string name)
    {
        ZipArchive? zip = null;
        try
        {
            zip = new ZipArchive(file.Open(), ZipArchiveMode.Read);
            var entry = zip.Entries.FirstOrDefault(e => e.Name == ManifestName)
                ?? throw new BadInputException(PackageCodes.NoManifest, name, string.Empty, "There is no manifest.json in it.", "It is not a package of this program.");
            using var manifest = entry.Open();
            var bytes = ReadAll(manifest, entry, name);
            return new PackageReader(zip, file, name, entry.FullName, Manifest.FromJson(bytes, $"{name}, manifest.json"), bytes);
        }
        catch (InvalidDataException problem)
        {
            zip?.Dispose();
            throw new BadInputException(PackageCodes.NotWhole, name, string.Empty, $"It is not a whole zip file: {problem.Message}", "Its transfer was cut short; ask for it again.");
        }
        catch
        {
            zip?.Dispose();
            throw;
        }
    }

    /// <summary>Whether there is an entry.</summary>
    public bool Has(string path) => _zip.GetEntry(path) is not null;

    /// <summary>An entry as it lies in the package, to be read from any place; null where it is packed.</summary>
    public Stream? OpenStored(string path) => _stored.TryGetValue(path, out var place)
        ? new PartStream(_file.Open(), place.Offset, place.Length)
        : null;

    /// <summary>Of the bytes of an entry, in lower-case hex.</summary>
    public string Sha256Of(string path) => Whole(path, input => Convert.ToHexStringLower(SHA256.HashData(input)));

    /// <summary>The bytes of an entry, unpacked.</summary>
    public long SizeOf(string path) => Entry(path).Length;

    /// <summary>The bytes of an entry that is a document.</summary>
    public byte[] Read(string path) => Whole(path, input => ReadAll(input, Entry(path), _name));

    /// <summary>Copies an entry out to a stream.</summary>
    public void CopyTo(string path, Stream output) => Whole(path, input =>
    {
        input.CopyTo(output, 1 << 17);
        return true;
    });

    /// <summary>Copies an entry out to a file and gives its SHA-256 and size.</summary>
    public (string Sha256, long Bytes) CopyTo(string path, string file, CancellationToken stop) => Whole(path, input =>
    {
        using var output = File.Create(file);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[1 << 17];
        int read;
        while ((read = input.Read(buffer)) > 0)
        {
            stop.ThrowIfCancellationRequested();
            hash.AppendData(buffer, 0, read);
            output.Write(buffer, 0, read);
        }

        return (Convert.ToHexStringLower(hash.GetHashAndReset()), output.Length);
    });

    public void Dispose() => _zip.Dispose();

    /// <summary>Reads an entry; what the zip's own reader says of a damaged one is said as of any bad input.</summary>
    private T Whole<T>(string path, Func<Stream, T> read)
    {
        try
        {
            using var input = OpenStored(path) ?? Entry(path).Open();
            return read(input);
        }
        catch (InvalidDataException problem)
        {
            throw new BadInputException(PackageCodes.NotWhole, _name, $"entry \"{path}\"", $"It cannot be read: {problem.Message}", "Ask for the package again.");
        }
    }

    private ZipArchiveEntry Entry(string path) => _zip.GetEntry(path)
        ?? throw new BadInputException(PackageCodes.EntryMissing, _name, $"entry \"{path}\"", "It is not in the package.", "Build it again.");

    private static byte[] ReadAll(Stream input, ZipArchiveEntry entry, string name)
    {
        if (entry.Length > LargestDocument)
        {
            throw new BadInputException(FileCodes.TooLarge, name, $"entry \"{entry.FullName}\"", $"It is {entry.Length} bytes, more than any document.", "Check where the package came from.");
        }

        using var output = new MemoryStream();
        input.CopyTo(output);
        return output.ToArray();
    }
}
