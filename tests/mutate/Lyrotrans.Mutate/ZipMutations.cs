using System.Buffers.Binary;
using System.IO.Compression;

namespace Lyrotrans.Mutate;

/// <summary>What can be changed around the files.</summary>
internal static class ZipMutations
{
    private const int Directory = 0x02014B50;

    public static IEnumerable<Mutation> All()
    {
        foreach (var (name, at) in new[] { ("version", 4), ("flags", 6), ("time", 10), ("date", 12), ("checksum", 14), ("extra length", 28) })
        {
            yield return Zip($"another {name} in the first header", b => Changed(b, at));
        }

        foreach (var (name, at) in new[] { ("maker", 5), ("version", 6), ("flags", 8), ("time", 12), ("date", 14), ("checksum", 16), ("packed size", 20), ("size", 24), ("comment length", 32), ("disk", 34), ("attributes", 38), ("offset", 42) })
        {
            yield return Zip($"another {name} in the directory", b => Changed(b, Find(b, Directory) + at));
        }

        yield return Zip("bytes before it", b => [1, 2, 3, 4, .. b]);
        yield return Zip("bytes behind it", b => [.. b, 1, 2, 3, 4]);
        yield return Zip("a comment", b => [.. b[..^2], 4, 0, .. "more"u8]);
        yield return Zip("cut short", b => b[..^10]);
        yield return new Mutation("zip: its files in another order", p => (p with { Files = [.. p.Files.Reverse()] }).Zip());
        yield return new Mutation("zip: another date", p => (p with { Stamp = p.Stamp.AddMinutes(2) }).Zip());
        yield return new Mutation("zip: a file more", p => (p with { Files = [.. p.Files, (p.Files[0].Path + ".txt", "more"u8.ToArray())] }).Zip());
        yield return new Mutation("zip: a folder more", p => (p with { Files = [.. p.Files, (p.Files[0].Path.Split('/')[0] + "/empty/", [])] }).Zip());
        yield return new Mutation("zip: packed again", Packed);
    }

    private static Mutation Zip(string how, Func<byte[], byte[]> change) => new($"zip: {how}", p => change(p.Zip()));

    private static byte[] Packed(PackageParts parts)
    {
        using var output = new MemoryStream();
        using (var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (path, bytes) in parts.Files)
            {
                using var entry = zip.CreateEntry(path).Open();
                entry.Write(bytes);
            }
        }

        return output.ToArray();
    }

    private static byte[] Changed(byte[] bytes, int at)
    {
        var copy = (byte[])bytes.Clone();
        copy[at] ^= 1;
        return copy;
    }

    private static int Find(byte[] bytes, int signature)
    {
        for (var at = bytes.Length - 22; at >= 0; at--)
        {
            if (BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(at)) == 0x06054B50)
            {
                var start = BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(at + 16));
                return BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(start)) == signature ? start : throw new InvalidDataException("There is no directory.");
            }
        }

        throw new InvalidDataException("There is no directory.");
    }
}
