using Lyrotrans.Formats.Compound;

namespace Lyrotrans.Fuzz;

/// <summary>Makes more telling seeds of a compound file.</summary>
internal static class CompoundSeeds
{
    /// <summary>A file as it is, and, where it is a compound file, without the descriptions that readers pass over, so that more mutations hit what is read.</summary>
    public static IEnumerable<byte[]> Of(byte[] file)
    {
        yield return file;
        if (file is not [0xD0, 0xCF, 0x11, 0xE0, ..])
        {
            yield break;
        }

        using var stream = new MemoryStream(file);
        var compound = CompoundFile.Open(stream, "seed");
        foreach (var sector in new[] { 512, 4096 })
        {
            using var output = new MemoryStream();
            CompoundWriter.Write(Copy(compound, compound.Root, string.Empty), sector, output);
            yield return output.ToArray();
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
