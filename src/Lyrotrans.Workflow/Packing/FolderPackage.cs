using Lyrotrans.Files;

namespace Lyrotrans.Workflow.Packing;

/// <summary>
/// Writes the files of a package into a folder, each by a number, side by side from any thread. All of them are on their disk when it is finished. Where it is not finished, whoever made the folder
/// throws it away.
/// </summary>
public sealed class FolderPackage : IPackageOutput
{
    private readonly string _folder;
    private readonly DateTimeOffset _stamp;
    private readonly DiskSync _sync = new();
    private readonly List<(FolderEntry Entry, bool SizeKnown)> _entries = [];

    /// <param name="folder">Empty; nothing else writes to it.</param>
    /// <param name="stamp">The date of every file.</param>
    public FolderPackage(string folder, DateTimeOffset stamp)
    {
        _folder = folder;
        _stamp = stamp;
    }

    /// <inheritdoc/>
    public PackageEntry Reserve(string path, long bytes) => Add(path, bytes);

    /// <inheritdoc/>
    public PackageEntry Append(string path) => Add(path, null);

    /// <summary>Waits until everything is on its disk.</summary>
    /// <exception cref="IOException">The disk is full or cannot be written.</exception>
    public void Finish() => _sync.Finish();

    /// <summary>What was written; worth asking once it is finished.</summary>
    public PackageContents Contents => new(_stamp, [.. _entries.Select(e => new PackedFile(e.Entry.Path, e.Entry.Bytes, e.Entry.Sha256, e.Entry.Crc32, e.SizeKnown))]);

    /// <summary>Each of its files once, by its SHA-256, and where it lies.</summary>
    public IReadOnlyDictionary<string, string> Places =>
        _entries.Select((e, i) => (e.Entry.Sha256, Path: PathOf(i))).DistinctBy(e => e.Sha256).ToDictionary(e => e.Sha256, e => e.Path);

    /// <summary>The zip of it, as long as the folder is there.</summary>
    /// <param name="scratch">A local folder for a copy, where a library needs one.</param>
    public PackageZip Zip(string scratch)
    {
        var places = Places;
        return new PackageZip(Contents, sha256 => new DiskFile(places[sha256]), scratch);
    }

    private string PathOf(int number) => Path.Combine(_folder, FormattableString.Invariant($"{number:D6}"));

    private FolderEntry Add(string path, long? bytes)
    {
        var entry = new FolderEntry(path, PathOf(_entries.Count), bytes, _sync);
        _entries.Add((entry, bytes is not null));
        return entry;
    }
}
