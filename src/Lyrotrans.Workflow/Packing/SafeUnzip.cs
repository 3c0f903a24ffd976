using System.IO.Compression;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// Unpacks an archive from outside: refuses names that climb out or are absolute, links, two entries of one name, and
/// archives that grow beyond a bound (bombs). Nothing is written outside the target, and what is refused stops the whole archive.
/// </summary>
public static class SafeUnzip
{
    private const int MostEntries = 200_000;
    private const int LargestRatio = 200;
    private const long RatioMatters = 50L << 20;
    private const int UnixLink = 0xA000;

    /// <param name="zip">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <param name="folder">An empty folder.</param>
    /// <param name="room">Bytes that may be written.</param>
    /// <returns>Relative name and path of each file, side files left out.</returns>
    /// <exception cref="BadInputException">The archive is damaged or refused.</exception>
    public static IReadOnlyList<(string Name, string Path)> Unpack(string zip, string name, string folder, long room, CancellationToken stop)
    {
        try
        {
            using var archive = ZipFile.OpenRead(zip);
            Check(archive, name, room);
            return Extract(archive, name, folder, stop);
        }
        catch (InvalidDataException problem)
        {
            throw new BadInputException(ArchiveCodes.Damaged, name, string.Empty, $"The archive is damaged: {problem.Message}", "Pack it again.");
        }
    }

    private static void Check(ZipArchive archive, string name, long room)
    {
        if (archive.Entries.Count > MostEntries)
        {
            throw new BadInputException(ArchiveCodes.TooMany, name, string.Empty, $"It has {archive.Entries.Count} entries; at most {MostEntries} are taken.", "Send it in parts.");
        }

        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var total = 0L;
        foreach (var entry in archive.Entries)
        {
            var where = $"entry \"{entry.FullName}\"";
            if (SafePath.Problem(entry.FullName) is { } problem)
            {
                throw new BadInputException(ArchiveCodes.RefusedName, name, where, $"The name is refused: {problem}.", "Pack it again without that entry.");
            }

            if (((entry.ExternalAttributes >> 16) & 0xF000) == UnixLink)
            {
                throw new BadInputException(ArchiveCodes.Link, name, where, "It is a link, and links are refused.", "Pack the file itself.");
            }

            if (!IsFolder(entry) && !seen.Add(entry.FullName.Replace('\\', '/')))
            {
                throw new BadInputException(ArchiveCodes.SameName, name, where, "Two entries have this name.", "Pack it again with each file once.");
            }

            total = checked(total + entry.Length);
            if (entry.Length > RatioMatters && entry.Length / Math.Max(1, entry.CompressedLength) > LargestRatio)
            {
                throw new BadInputException(ArchiveCodes.Bomb, name, where, $"It grows {entry.Length / Math.Max(1, entry.CompressedLength)} times when unpacked; sound never does.", "Check where the archive came from.");
            }
        }

        if (total > room)
        {
            throw new BadInputException(ArchiveCodes.NoRoom, name, string.Empty, $"Unpacked it needs {Digits.Bytes(total)}, and {Digits.Bytes(room)} are free for it.", "Make room, or send it in parts.");
        }
    }

    private static List<(string Name, string Path)> Extract(ZipArchive archive, string name, string folder, CancellationToken stop)
    {
        var files = new List<(string, string)>();
        foreach (var entry in archive.Entries.Where(e => !IsFolder(e) && !SafePath.IsSideFile(e.FullName)))
        {
            stop.ThrowIfCancellationRequested();

            // The name on disk is a number: nothing from the archive ever becomes a path.
            var path = Path.Combine(folder, $"{files.Count}.part");
            using var output = File.Create(path);
            using var input = entry.Open();
            Copy(input, output, entry, name);
            files.Add((entry.FullName.Replace('\\', '/'), path));
        }

        return files;
    }

    // The header's length is a claim; no more than that is written, whatever comes out.
    private static void Copy(Stream input, Stream output, ZipArchiveEntry entry, string name)
    {
        var buffer = new byte[1 << 16];
        var left = entry.Length;
        int read;
        while ((read = input.Read(buffer)) > 0)
        {
            left -= read;
            if (left < 0)
            {
                throw new BadInputException(ArchiveCodes.Damaged, name, $"entry \"{entry.FullName}\"", "It unpacks to more than it says.", "Check where the archive came from.");
            }

            output.Write(buffer, 0, read);
        }

        if (left > 0)
        {
            throw new BadInputException(ArchiveCodes.Damaged, name, $"entry \"{entry.FullName}\"", $"It ends {left} bytes early.", "The archive is damaged; pack it again.");
        }
    }

    private static bool IsFolder(ZipArchiveEntry entry) => entry.FullName.EndsWith('/') || entry.FullName.EndsWith('\\');
}
