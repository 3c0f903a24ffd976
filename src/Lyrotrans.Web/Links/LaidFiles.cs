using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Links;

/// <summary>Files that came by a link, laid out to be read: archives unpacked, nothing of them changed. All of them together write no more than they may.</summary>
/// <param name="most">Bytes that may be written.</param>
public sealed class LaidFiles(long most)
{
    private long _left = most;

    /// <summary>What came in a file: itself where it lies, or the files of an archive, without its name. One that cannot be unpacked has its problem.</summary>
    /// <param name="from">Where its bytes lie.</param>
    /// <param name="name">As it was announced.</param>
    /// <param name="folder">Gets what is unpacked.</param>
    /// <param name="stop">Heeded between files.</param>
    public IReadOnlyList<UnpackedEntry> Of(string from, string name, string folder, CancellationToken stop)
    {
        try
        {
            return IsZip(from) ? Unpacked(from, name, folder, stop) : [new UnpackedEntry(name, from, null)];
        }
        catch (BadInputException problem)
        {
            return [new UnpackedEntry(name, from, problem.Finding)];
        }
    }

    /// <summary>Each file under its own name in a folder. Copies: work whose process is killed finds its files again.</summary>
    /// <exception cref="BadInputException">A name came twice, or an archive cannot be unpacked.</exception>
    public void Lay(IReadOnlyList<ReturnedFile> files, Func<ReturnedFile, string> pathOf, string folder, CancellationToken stop)
    {
        foreach (var file in files)
        {
            stop.ThrowIfCancellationRequested();
            var (from, to) = (pathOf(file), Path.Combine(folder, file.Name));
            if (File.Exists(to))
            {
                throw new BadInputException(ArchiveCodes.SameName, file.Name, string.Empty, "It came twice.", "Give each file once.");
            }

            if (IsZip(from))
            {
                Unpacked(from, file.Name, Path.Combine(folder, $"{file.Name} unpacked"), stop);
                continue;
            }

            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(from, to);
            _left -= file.Length;
        }
    }

    /// <summary>Takes a folder away, where it is there: what a process left that was killed in the middle too.</summary>
    public static void Clear(string folder)
    {
        if (Directory.Exists(folder))
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private IReadOnlyList<UnpackedEntry> Unpacked(string from, string name, string folder, CancellationToken stop)
    {
        var files = SafeUnzip.Unpack(from, name, Directory.CreateDirectory(folder).FullName, Math.Max(0, _left), stop);
        _left -= SafeUnzip.BytesOf(from, name);
        return files;
    }

    private static bool IsZip(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream) == ContentKind.Zip;
    }
}
