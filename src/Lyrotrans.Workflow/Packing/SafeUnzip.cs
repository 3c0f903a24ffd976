using System.IO.Compression;
using System.IO.Hashing;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// Unpacks an archive from outside: refuses names that climb out or are absolute, links, two entries of one name, entries that lie over each other, and archives that need more room than
/// there is. Nothing is written outside the target, and what is refused stops the whole archive. An entry that is damaged in itself is one bad entry: the others come out.
/// </summary>
public static class SafeUnzip
{
    private const int MostEntries = 200_000;
    private const int UnixLink = 0xA000;

    /// <param name="zip">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <param name="folder">An empty folder.</param>
    /// <param name="room">Bytes that may be written.</param>
    /// <param name="stop">Stops it between two entries.</param>
    /// <returns>Each file, side files left out.</returns>
    /// <exception cref="BadInputException">The archive is damaged or refused.</exception>
    public static IReadOnlyList<UnpackedEntry> Unpack(string zip, string name, string folder, long room, CancellationToken stop)
    {
        return Checked(zip, name, room, archive => Extract(archive, name, folder, stop));
    }

    /// <summary>The files of an archive that would be unpacked, and how long each is, in the archive's order.</summary>
    /// <exception cref="BadInputException">The archive is damaged or refused.</exception>
    public static IReadOnlyList<(string Path, long Bytes)> List(string zip, string name) =>
        Checked(zip, name, long.MaxValue, archive => archive.Entries.Where(e => !IsFolder(e)).Select(e => (e.FullName.Replace('\\', '/'), e.Length)).ToList());

    /// <summary>Bytes that an archive unpacks to.</summary>
    /// <exception cref="BadInputException">The archive is damaged or refused.</exception>
    public static long BytesOf(string zip, string name) => List(zip, name).Sum(f => f.Bytes);

    private static T Checked<T>(string zip, string name, long room, Func<ZipArchive, T> act)
    {
        try
        {
            using var archive = ZipFile.OpenRead(zip);
            Check(archive, name, room);
            using (var stream = File.OpenRead(zip))
            {
                CheckPlaces(ZipDirectory.Of(stream), archive.Entries.Count, name);
            }

            return act(archive);
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

        var seen = new HashSet<string>(SameName.Comparer);
        var left = room;
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

            // Taken off what is left, so that no size can run over.
            if (entry.Length > left)
            {
                throw new BadInputException(ArchiveCodes.NoRoom, name, where, $"Up to here it needs more than the {Digits.Bytes(room)} that are free for it.", "Make room, or send it in parts.");
            }

            left -= entry.Length;
        }
    }

    // What two entries share would be unpacked again and again.
    private static void CheckPlaces(IReadOnlyList<ZipPlace> places, int entries, string name)
    {
        if (places.Count != entries)
        {
            throw new BadInputException(ArchiveCodes.Damaged, name, string.Empty, "The archive is damaged: its directory cannot be read whole.", "Pack it again.");
        }

        var end = 0L;
        foreach (var place in places.OrderBy(p => p.Offset))
        {
            if (place.Data is not { } data)
            {
                throw new BadInputException(ArchiveCodes.Damaged, name, $"entry \"{place.Path}\"", "It does not lie where the directory says, or ends beyond the archive.", "The archive is damaged; pack it again.");
            }

            if (place.Offset < end)
            {
                throw new BadInputException(ArchiveCodes.Overlap, name, $"entry \"{place.Path}\"", "It lies over the entry before it.", "Check where the archive came from.");
            }

            end = data + place.Packed;
        }
    }

    private static List<UnpackedEntry> Extract(ZipArchive archive, string name, string folder, CancellationToken stop)
    {
        var files = new List<UnpackedEntry>();
        foreach (var entry in archive.Entries.Where(e => !IsFolder(e) && !SafePath.IsSideFile(e.FullName)))
        {
            stop.ThrowIfCancellationRequested();

            // The name on disk is a number: nothing from the archive ever becomes a path.
            var path = Path.Combine(folder, $"{files.Count}.part");
            files.Add(new UnpackedEntry(entry.FullName.Replace('\\', '/'), path, Extract(entry, path, name)));
        }

        return files;
    }

    private static Finding? Extract(ZipArchiveEntry entry, string path, string name)
    {
        try
        {
            using var output = File.Create(path);
            using var input = entry.Open();
            Copy(input, output, entry, name);
            return null;
        }
        catch (InvalidDataException problem)
        {
            File.Delete(path);
            return Damaged(entry, name, $"It cannot be unpacked: {problem.Message}").Finding;
        }
        catch (BadInputException problem)
        {
            File.Delete(path);
            return problem.Finding;
        }
    }

    private static BadInputException Damaged(ZipArchiveEntry entry, string name, string problem) =>
        new(ArchiveCodes.Damaged, name, $"entry \"{entry.FullName}\"", problem, "The archive is damaged; pack it again.");

    // The header's length is a claim; no more than that is written, whatever comes out.
    private static void Copy(Stream input, Stream output, ZipArchiveEntry entry, string name)
    {
        var buffer = new byte[1 << 16];
        var left = entry.Length;
        var sum = new Crc32();
        int read;
        while ((read = input.Read(buffer)) > 0)
        {
            left -= read;
            if (left < 0)
            {
                throw Damaged(entry, name, "It unpacks to more than it says.");
            }

            sum.Append(buffer.AsSpan(0, read));
            output.Write(buffer, 0, read);
        }

        if (left > 0)
        {
            throw Damaged(entry, name, $"It ends {left} bytes early.");
        }

        if (sum.GetCurrentHashAsUInt32() != entry.Crc32)
        {
            throw Damaged(entry, name, "Its bytes are not those of its checksum.");
        }
    }

    private static bool IsFolder(ZipArchiveEntry entry) => entry.FullName.EndsWith('/') || entry.FullName.EndsWith('\\');
}
