using Lyrotrans.Core.Storing;

namespace Lyrotrans.Files;

/// <summary>A file on a local disk.</summary>
/// <param name="path">Where it lies.</param>
public sealed class DiskFile(string path) : IStoredFile
{
    private const int Buffer = 1 << 16;

    public long Length => new FileInfo(path).Length;

    public Stream Open() => new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read | FileShare.Delete, Buffer);

    public LocalFile Local() => new(path, null);
}
