using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Fuzz;

/// <summary>Reads an AAF file as an intake does: its compositions, its session, and what lies inside it.</summary>
internal static class AafTarget
{
    private const int MostEssence = 1 << 16;

    /// <summary>A file as it is, and without the descriptions that readers pass over, so that more mutations hit what is read.</summary>
    public static IEnumerable<byte[]> Seeds(byte[] file)
    {
        yield return file;
        using var stream = new MemoryStream(file);
        var compound = CompoundFile.Open(stream, "seed");
        foreach (var sector in new[] { 512, 4096 })
        {
            using var output = new MemoryStream();
            CompoundWriter.Write(Copy(compound, compound.Root, string.Empty), sector, output);
            yield return output.ToArray();
        }
    }

    public static void Read(byte[] bytes)
    {
        using var stream = new MemoryStream(bytes);
        var document = AafDocument.Open(stream, "fuzz.aaf");
        foreach (var name in document.Compositions.Take(2))
        {
            var composition = document.Read(name);
            EditImport.Make(composition);
            foreach (var media in composition.Media.Keys.Take(4))
            {
                document.OpenEssence(media)?.ReadAtLeast(new byte[MostEssence], MostEssence, throwOnEndOfStream: false);
            }
        }
    }

    private static CompoundStorage Copy(CompoundFile file, CompoundEntry storage, string name)
    {
        var copy = new CompoundStorage(name, storage.Class);
        foreach (var entry in file.Children(storage).All.Where(e => !e.Name.StartsWith("MetaDictionary", StringComparison.Ordinal) && !e.Name.StartsWith("Containe-", StringComparison.Ordinal)))
        {
            if (entry.Kind == CompoundEntryKind.Storage)
            {
                copy.Storages.Add(Copy(file, entry, entry.Name));
            }
            else
            {
                copy.Streams.Add(new CompoundContent(entry.Name, file.ReadAll(entry, 1 << 22).AsSpan(0, (int)Math.Min(entry.Size, 20_000)).ToArray()));
            }
        }

        return copy;
    }
}
