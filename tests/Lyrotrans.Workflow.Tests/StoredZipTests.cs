using System.IO.Compression;
using CsCheck;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Tests;

public sealed class StoredZipTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-zip-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static byte[] Write(IReadOnlyList<byte[]> entries)
    {
        using var output = new MemoryStream();
        SideBySide.Write(new StoredZip(output, DemoSession.Stamp), entries);
        return output.ToArray();
    }

    private IReadOnlyDictionary<string, (long Offset, long Length)> Places(byte[] bytes)
    {
        var path = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        File.WriteAllBytes(path, bytes);
        using var file = File.OpenRead(path);
        return ZipDirectory.Stored(file);
    }

    [Fact]
    public void What_is_written_is_read_by_another_library_and_lies_where_it_is_said() => Gen.Byte.Array[0, 300].Array[0, 8].Sample(
        entries =>
        {
            var bytes = Write(entries);
            using var archive = new ZipArchive(new MemoryStream(bytes));
            var places = Places(bytes);
            if (archive.Entries.Count != entries.Length + 1 || places.Count != entries.Length + 1)
            {
                return false;
            }

            return archive.Entries.All(entry =>
            {
                using var content = new MemoryStream();
                using (var stream = entry.Open())
                {
                    stream.CopyTo(content);
                }

                var (offset, length) = places[entry.FullName];
                return content.ToArray().AsSpan().SequenceEqual(bytes.AsSpan((int)offset, (int)length));
            }) && Enumerable.Range(0, entries.Length).All(i => places[$"root/Zoë {i}.bin"].Length == entries[i].Length);
        },
        iter: 60);

    [Fact]
    public void Damage_leaves_places_out_and_never_leads_outside_the_file() => Gen.Select(Gen.Byte.Array[1, 100].Array[1, 4], Gen.Select(Gen.Int[0, 5000], Gen.Byte).Array[1, 12], Gen.Int[0, 400]).Sample(
        (entries, changes, cut) =>
        {
            var bytes = Write(entries);
            foreach (var (at, value) in changes)
            {
                bytes[at % bytes.Length] = value;
            }

            var damaged = bytes[..Math.Max(0, bytes.Length - cut)];
            return Places(damaged).Values.All(p => p.Offset >= 0 && p.Length >= 0 && p.Offset + p.Length <= damaged.Length);
        },
        iter: 300);

    [Fact]
    public void An_entry_that_is_longer_or_shorter_than_it_was_said_to_be_is_refused()
    {
        var zip = new StoredZip(new MemoryStream(), DemoSession.Stamp);
        var entry = zip.Reserve("a", 3);
        Assert.Throws<InvalidOperationException>(() => entry.Write([1, 2, 3, 4]));
        entry.Write([1, 2]);
        Assert.Throws<InvalidOperationException>(entry.Finish);
    }
}
