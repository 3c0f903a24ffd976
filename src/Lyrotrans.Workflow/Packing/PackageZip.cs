using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// The zip of a package that lies as files, put together while it is read: it lies nowhere, and is the same whenever it is asked for, from any place on.
/// </summary>
/// <param name="contents">The files.</param>
/// <param name="fileOf">A file by its SHA-256.</param>
/// <param name="scratch">A local folder for a copy, where a library needs one.</param>
public sealed class PackageZip(PackageContents contents, Func<string, IStoredFile> fileOf, string scratch) : IStoredFile
{
    private readonly ZipLayout _layout = new(contents.Files.Select(f => (f.Path, f.Bytes, f.Crc32, f.SizeKnown)), contents.Made);

    public long Length => _layout.Length;

    public Stream Open() => new PackageZipStream(_layout, i => fileOf(contents.Files[i].Sha256).Open());

    public LocalFile Local()
    {
        Directory.CreateDirectory(scratch);
        var path = Path.Combine(scratch, $"{Guid.NewGuid():N}.zip");
        try
        {
            using var from = Open();
            using var to = File.Create(path);
            from.CopyTo(to, 1 << 18);
        }
        catch
        {
            File.Delete(path);
            throw;
        }

        return new LocalFile(path, () => File.Delete(path));
    }
}
