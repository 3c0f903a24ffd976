using System.IO.Compression;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Archiving;

/// <summary>The zip of an archive: written front to back, and opened again with every byte held to its sum.</summary>
public sealed class ArchiveZip : IDisposable
{
    private const int CopyBytes = 1 << 18;
    private const long LongestList = 1 << 28;
    private readonly ZipArchive _zip;
    private readonly string _name;

    private ArchiveZip(ZipArchive zip, string name, TransferArchive contents) => (_zip, _name, Contents) = (zip, name, contents);

    /// <summary>What is in it.</summary>
    public TransferArchive Contents { get; }

    /// <summary>Writes an archive.</summary>
    /// <param name="output">Need not seek.</param>
    /// <param name="contents">The list, which comes first.</param>
    /// <param name="open">Opens a file by its hash.</param>
    /// <param name="at">The date of its entries.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static void Write(Stream output, TransferArchive contents, Func<string, Stream> open, DateTimeOffset at, CancellationToken stop)
    {
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        Entry(zip, TransferArchive.ListName, new MemoryStream(contents.ToJson()), CompressionLevel.Optimal, at, stop);
        foreach (var document in contents.Documents)
        {
            Entry(zip, document.Path, open(document.Sha256), CompressionLevel.Optimal, at, stop);
        }

        Write(zip, contents.Originals, open, at, stop);
    }

    /// <summary>Writes files as they are, and no list.</summary>
    /// <param name="output">Need not seek.</param>
    /// <param name="files">By their paths in the zip.</param>
    /// <param name="open">Opens a file by its hash.</param>
    /// <param name="at">The date of its entries.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static void WriteFiles(Stream output, IEnumerable<ArchivedFile> files, Func<string, Stream> open, DateTimeOffset at, CancellationToken stop)
    {
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        Write(zip, files, open, at, stop);
    }

    /// <summary>Whether a file on disk is an archive, by the list in it; a zip that cannot be read is none.</summary>
    public static bool IsAt(string path)
    {
        try
        {
            using var stream = File.OpenRead(path);
            if (stream.ReadByte() != 'P' || stream.ReadByte() != 'K')
            {
                return false;
            }

            stream.Position = 0;
            using var zip = new ZipArchive(stream, ZipArchiveMode.Read);
            return zip.GetEntry(TransferArchive.ListName) is { Length: < LongestList } list && JsonHasVersion(list);
        }
        catch (InvalidDataException)
        {
            return false;
        }
    }

    /// <param name="path">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">It is damaged, refused, or not what its list says.</exception>
    public static ArchiveZip Open(string path, string name)
    {
        var sizes = SafeUnzip.List(path, name).ToDictionary(f => f.Path, f => f.Bytes);
        var zip = ZipFile.OpenRead(path);
        try
        {
            using var list = new MemoryStream();
            Copy(zip.GetEntry(TransferArchive.ListName)!, list, LongestList, name, default);
            var contents = TransferArchive.FromJson(list.ToArray(), name);
            return contents.Documents.Concat(contents.Originals).FirstOrDefault(f => sizes.GetValueOrDefault(f.Path, -1) != f.Bytes) is { } wrong
                ? throw new BadInputException(ArchiveCodes.NotWhole, name, wrong.Path, "It is not in the archive, or has another size than the list says.", "Fetch the archive again.")
                : new ArchiveZip(zip, name, contents);
        }
        catch
        {
            zip.Dispose();
            throw;
        }
    }

    /// <summary>A document's bytes.</summary>
    /// <exception cref="BadInputException">They are others than the list says.</exception>
    public byte[] Document(string sha256)
    {
        using var bytes = new MemoryStream();
        CopyTo(Contents.Documents.First(d => d.Sha256 == sha256), bytes, default);
        return bytes.ToArray();
    }

    /// <summary>Copies a file out.</summary>
    /// <exception cref="BadInputException">Its bytes are others than the list says.</exception>
    public void CopyTo(ArchivedFile file, Stream output, CancellationToken stop)
    {
        if (Copy(_zip.GetEntry(file.Path)!, output, file.Bytes, _name, stop) != file.Sha256)
        {
            throw new BadInputException(ArchiveCodes.NotWhole, _name, file.Path, "Its bytes are others than the archive's list says.", "Fetch the archive again.");
        }
    }

    public void Dispose() => _zip.Dispose();

    private static bool JsonHasVersion(ZipArchiveEntry list)
    {
        using var stream = list.Open();
        var head = new byte[4096];
        var read = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        return head.AsSpan(0, read).IndexOf("\"lyrotransArchive\""u8) >= 0;
    }

    private static void Write(ZipArchive zip, IEnumerable<ArchivedFile> files, Func<string, Stream> open, DateTimeOffset at, CancellationToken stop)
    {
        foreach (var file in files)
        {
            Entry(zip, file.Path, open(file.Sha256), CompressionLevel.NoCompression, at, stop);
        }
    }

    private static void Entry(ZipArchive zip, string path, Stream from, CompressionLevel level, DateTimeOffset at, CancellationToken stop)
    {
        using (from)
        {
            var entry = zip.CreateEntry(path, level);
            entry.LastWriteTime = at;
            using var into = entry.Open();
            var buffer = new byte[CopyBytes];
            for (int read; (read = from.Read(buffer)) > 0;)
            {
                stop.ThrowIfCancellationRequested();
                into.Write(buffer, 0, read);
            }
        }
    }

    private static string Copy(ZipArchiveEntry entry, Stream output, long most, string name, CancellationToken stop)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[CopyBytes];
        var left = most;
        try
        {
            using var from = entry.Open();
            for (int read; (read = from.Read(buffer)) > 0;)
            {
                stop.ThrowIfCancellationRequested();
                left -= read;
                if (left < 0)
                {
                    break;
                }

                hash.AppendData(buffer, 0, read);
                output.Write(buffer, 0, read);
            }
        }
        catch (InvalidDataException problem)
        {
            throw new BadInputException(ArchiveCodes.Damaged, name, entry.FullName, $"The archive is damaged: {problem.Message}", "Fetch it again.");
        }

        return left < 0 ? string.Empty : Convert.ToHexStringLower(hash.GetHashAndReset());
    }
}
