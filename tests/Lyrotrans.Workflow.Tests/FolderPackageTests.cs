using System.Security.Cryptography;
using CsCheck;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package that lies as files, and the zip that is put together of them.</summary>
public sealed class FolderPackageTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-package-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private FolderPackage Packed(byte[][] files)
    {
        var package = new FolderPackage(Directory.CreateDirectory(Path.Combine(_folder, Guid.NewGuid().ToString("N"))).FullName, DemoSession.Stamp);
        SideBySide.Write(package, files);
        return package;
    }

    private static byte[] Zipped(byte[][] files)
    {
        using var output = new MemoryStream();
        SideBySide.Write(new StoredZip(output, DemoSession.Stamp), files);
        return output.ToArray();
    }

    [Fact]
    public void Its_zip_is_the_one_that_is_written_at_once_and_is_read_from_any_place() => Gen.Select(Gen.Byte.Array[0, 300].Array[0, 8], Gen.Select(Gen.Int[0, 3000], Gen.Int[1, 700]).Array[1, 20]).Sample(
        (files, reads) =>
        {
            var meant = Zipped(files);
            var zip = Packed(files).Zip(_folder);
            using var stream = zip.Open();
            using var whole = new MemoryStream();
            stream.CopyTo(whole);
            Assert.Equal(meant, whole.ToArray());
            Assert.Equal(meant.Length, zip.Length);
            foreach (var (place, length) in reads)
            {
                var at = place % meant.Length;
                var buffer = new byte[Math.Min(length, meant.Length - at)];
                stream.Position = at;
                stream.ReadExactly(buffer);
                Assert.True(buffer.AsSpan().SequenceEqual(meant.AsSpan(at, buffer.Length)), $"{length} bytes from {at} on");
            }
        },
        iter: 60);

    [Fact]
    public void Its_list_of_files_is_read_as_it_was_written_and_names_each_by_its_sum()
    {
        byte[][] files = [[1, 2, 3], [], [1, 2, 3]];
        var package = Packed(files);
        using var json = new MemoryStream(package.Contents.ToJson());
        var read = PackageContents.FromJson(json);
        Assert.Equal(package.Contents.Files, read.Files);
        Assert.Equal(package.Contents.Made, read.Made);
        Assert.Equal(files.Select(f => Convert.ToHexStringLower(SHA256.HashData(f))), read.Files.Take(3).Select(f => f.Sha256));

        // What is there twice lies there once.
        Assert.Equal(3, package.Places.Count);
        Assert.Throws<InvalidDataException>(() => PackageContents.FromJson(new MemoryStream("{}"u8.ToArray())));
        Assert.Throws<InvalidDataException>(() => PackageContents.FromJson(new MemoryStream("{\"made\""u8.ToArray())));
    }

    [Fact]
    public void A_copy_for_a_library_is_the_zip_and_goes_away()
    {
        byte[][] files = [[5, 6], [7]];
        string path;
        using (var local = Packed(files).Zip(_folder).Local())
        {
            path = local.Path;
            Assert.Equal(Zipped(files), File.ReadAllBytes(path));
        }

        Assert.False(File.Exists(path));
    }

    [Fact]
    public void A_file_that_is_cut_or_longer_or_gone_is_an_error_and_never_another_zip()
    {
        var package = Packed([[1, 2, 3], [4, 5, 6, 7]]);
        var place = package.Places[Convert.ToHexStringLower(SHA256.HashData([4, 5, 6, 7]))];
        foreach (var bytes in new byte[][] { [4, 5], [4, 5, 6, 7, 8] })
        {
            File.WriteAllBytes(place, bytes);
            using var stream = package.Zip(_folder).Open();
            Assert.Contains("was made", Assert.Throws<IOException>(() => stream.CopyTo(Stream.Null)).Message, StringComparison.Ordinal);
        }

        File.Delete(place);
        using var gone = package.Zip(_folder).Open();
        Assert.Throws<FileNotFoundException>(() => gone.CopyTo(Stream.Null));
    }

    [Fact]
    public void A_file_that_is_longer_or_shorter_than_it_was_said_to_be_is_refused()
    {
        var package = new FolderPackage(_folder, DemoSession.Stamp);
        using var entry = package.Reserve("a", 3);
        Assert.Throws<InvalidOperationException>(() => entry.Write([1, 2, 3, 4]));
        entry.Write([1, 2]);
        Assert.Throws<InvalidOperationException>(entry.Finish);
    }
}
