using System.Security.Cryptography;
using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Handing;

/// <summary>
/// Puts a package into a folder that others look into: under a part name first, read back past what the system keeps in memory, and then in place by one rename. Whoever looks sees all of it or nothing.
/// </summary>
public static class FolderHandover
{
    /// <summary>What names of unfinished things begin with.</summary>
    public const string PartPrefix = ".lyrotrans-part-";

    private const int Block = 1 << 20;
    private const double WriteTakes = 0.5;

    /// <param name="files">All of them, in order; one alone for a zip, whose path is its name.</param>
    /// <param name="folder">Is there.</param>
    /// <param name="name">Of the folder or zip that lies there then.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops it; nothing is left then.</param>
    /// <exception cref="BadInputException">The folder is not there, the name is taken, or what was read back is something else.</exception>
    /// <exception cref="IOException">The folder is full, cannot be written, or went away.</exception>
    public static void Put(IReadOnlyList<KeptFile> files, string folder, string name, Action<WorkProgress> report, CancellationToken stop)
    {
        if (!Directory.Exists(folder))
        {
            throw new BadInputException(HandingCodes.NoFolder, Path.GetFileName(folder), string.Empty, "The folder is not there.", "Look whether it is mounted, or choose another.");
        }

        var (target, part) = (Path.Combine(folder, name), Path.Combine(folder, $"{PartPrefix}{Guid.NewGuid():N}"));
        RefuseTaken(target, name);
        var whole = files.Count == 1 && files[0].Path == name;
        try
        {
            if (!whole)
            {
                Directory.CreateDirectory(part);
            }

            var total = Math.Max(1, files.Sum(f => f.Bytes));
            long done = 0;
            foreach (var file in files)
            {
                Write(file, whole ? folder : part, whole ? part : Below(part, file.Path), bytes => report(new WorkProgress(WriteTakes * (done += bytes) / total, $"copying {Path.GetFileName(file.Path)}")), stop);
            }

            done = 0;
            if (Differing(files, file => whole ? part : Below(part, file.Path), (file, bytes) => report(new WorkProgress(WriteTakes + ((1 - WriteTakes) * (done += bytes) / total), $"reading back {Path.GetFileName(file.Path)}")), stop) is [var first, ..])
            {
                throw new BadInputException(HandingCodes.Differs, first, string.Empty, "What was read back is not what was written; the disk or the way to it is not to be trusted.", "Try again, or choose another folder.");
            }

            RefuseTaken(target, name);
            if (whole)
            {
                File.Move(part, target);
            }
            else
            {
                Directory.Move(part, target);
            }
        }
        catch
        {
            Remove(part);
            throw;
        }
    }

    /// <summary>What lies at its place is read back, past what the system keeps in memory.</summary>
    /// <returns>What is found, in words, and whether all of it is there and whole.</returns>
    public static (bool IsWhole, string Words) Check(IReadOnlyList<KeptFile> files, string folder, string name, Action<WorkProgress> report, CancellationToken stop)
    {
        var (target, whole) = (Path.Combine(folder, name), files.Count == 1 && files[0].Path == name);
        if (!Directory.Exists(folder))
        {
            return (false, "The folder is not there; look whether it is mounted.");
        }

        if (whole ? !File.Exists(target) : !Directory.Exists(target))
        {
            return (false, $"{name} is not there any more.");
        }

        long done = 0, total = Math.Max(1, files.Sum(f => f.Bytes));
        var differing = Differing(files, file => whole ? target : Below(target, file.Path), (file, bytes) => report(new WorkProgress((double)(done += bytes) / total, $"reading {Path.GetFileName(file.Path)}")), stop);
        var more = whole ? 0 : FolderFiles.Of(target) is var (found, links) ? found.Count + links.Count - files.Count(f => File.Exists(Below(target, f.Path))) : 0;
        return differing.Count > 0 ? (false, $"{Phrases.Count(differing.Count, "file")} missing or not the same: {Phrases.First(differing)}.")
            : (true, $"{Phrases.Count(files.Count, "file")} there and whole{(more > 0 ? $"; {Phrases.Count(more, "thing")} beside them that did not come from here" : string.Empty)}.");
    }

    private static void RefuseTaken(string target, string name)
    {
        if (Path.Exists(target))
        {
            throw new BadInputException(HandingCodes.Taken, name, string.Empty, "Something of this name lies there already, and stays as it is.", "Move it away, or put the package there under another name.");
        }
    }

    // Folders are made below what is there: one that went away, such as a disk that is not mounted any more, must not come to be again in its place.
    private static void Write(KeptFile file, string within, string path, Action<long> report, CancellationToken stop)
    {
        if (!Directory.Exists(within))
        {
            throw new IOException($"The folder went away while {Path.GetFileName(file.Path)} was put there.");
        }

        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        using var from = file.File.Open();
        using var to = new FileStream(path, FileMode.CreateNew, FileAccess.Write, FileShare.None, 0);
        var buffer = new byte[Block];
        for (int read; (read = from.Read(buffer)) > 0;)
        {
            stop.ThrowIfCancellationRequested();
            to.Write(buffer, 0, read);
            report(read);
        }

        to.Flush(flushToDisk: true);
        PageCache.Forget(to.SafeFileHandle);
    }

    private static List<string> Differing(IReadOnlyList<KeptFile> files, Func<KeptFile, string> place, Action<KeptFile, long> report, CancellationToken stop) =>
        [.. files.Where(f => !Same(f, place(f), bytes => report(f, bytes), stop)).Select(f => f.Path)];

    private static bool Same(KeptFile file, string path, Action<long> report, CancellationToken stop)
    {
        if (!File.Exists(path) || new FileInfo(path) is var info && (info.LinkTarget is not null || info.Length != file.Bytes))
        {
            return false;
        }

        using var found = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 0);
        PageCache.Forget(found.SafeFileHandle);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[Block];
        for (int read; (read = found.Read(buffer)) > 0;)
        {
            stop.ThrowIfCancellationRequested();
            hash.AppendData(buffer, 0, read);
            report(read);
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset()) == file.Sha256;
    }

    private static string Below(string folder, string path) => SafePath.Problem(path) is { } problem
        ? throw new BadInputException(HandingCodes.NoFolder, path, string.Empty, $"The name is refused: {problem}.", string.Empty)
        : Path.Combine(folder, path.Replace('/', Path.DirectorySeparatorChar));

    // A folder that went away cannot be swept; what matters is why it failed.
    private static void Remove(string part)
    {
        try
        {
            if (Directory.Exists(part))
            {
                Directory.Delete(part, recursive: true);
            }

            File.Delete(part);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return;
        }
    }
}
