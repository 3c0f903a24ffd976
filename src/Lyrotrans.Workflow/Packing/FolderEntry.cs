using Microsoft.Win32.SafeHandles;

namespace Lyrotrans.Workflow.Packing;

/// <summary>One file of a package that is written into a folder.</summary>
/// <param name="path">In the package.</param>
/// <param name="place">On disk.</param>
/// <param name="size">Its bytes; null where that shows when it is written.</param>
/// <param name="sync">Brings it to its disk.</param>
internal sealed class FolderEntry(string path, string place, long? size, DiskSync sync) : PackageEntry(path)
{
    // Opened by the first bytes, so that many reserved files are not many open ones.
    private SafeFileHandle? _file;

    private SafeFileHandle File => _file ??= System.IO.File.OpenHandle(place, FileMode.CreateNew, FileAccess.Write, FileShare.Read, FileOptions.None, size ?? 0);

    protected override void Put(ReadOnlySpan<byte> buffer)
    {
        CheckRoom(size, Length + buffer.Length);
        RandomAccess.Write(File, buffer, Length);
        sync.Wrote(File, buffer.Length);
    }

    protected override void End()
    {
        CheckWhole(size);
        sync.Close(File);
        _file = null;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _file?.Dispose();
        }

        base.Dispose(disposing);
    }
}
