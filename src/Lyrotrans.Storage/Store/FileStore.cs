using Lyrotrans.Core.Storing;
using Lyrotrans.Files;

namespace Lyrotrans.Storage.Store;

/// <summary>
/// Files by the SHA-256 of their bytes; one never changes once it is there. Rooms that brought in the same bytes share them, so nothing outside this
/// project can reach a file by its hash alone: media go through <see cref="RoomMedia"/>, documents through <c>DocumentStore</c>.
/// </summary>
public sealed class FileStore
{
    private readonly IObjectStore _objects;
    private readonly string _local;

    /// <param name="objects">Where the files lie.</param>
    /// <param name="local">A local folder for what is not finished; best on the disk of <paramref name="objects"/>, so that taking is a rename.</param>
    public FileStore(IObjectStore objects, string local)
    {
        _objects = objects;
        _local = local;
        Directory.CreateDirectory(Incoming);
        Directory.CreateDirectory(Scratch);
    }

    /// <summary>Where files lie before they are taken.</summary>
    public string Incoming => Path.Combine(_local, "incoming");

    /// <summary>For files that live only as long as some work.</summary>
    public string Scratch => Path.Combine(_local, "scratch");

    internal IStoredFile? Find(string sha256) => FileHash.Is(sha256) ? _objects.Find(NameOf(sha256)) : null;

    internal IStoredFile? Derived(string sha256, string what) => _objects.Find(DerivedNameOf(sha256, what));

    internal void KeepDerived(string sha256, string what, Action<Stream> write) => _objects.Put(DerivedNameOf(sha256, what), write);

    /// <summary>Takes a local file of a known hash.</summary>
    internal void Take(string path, string sha256)
    {
        if (_objects.Find(NameOf(sha256)) is not null)
        {
            File.Delete(path);
            return;
        }

        _objects.Take(NameOf(sha256), path);
    }

    /// <summary>Leaves nothing of a file, nor of what was made from it. Whoever calls this knows that nobody has it any more.</summary>
    internal void LetGo(string sha256)
    {
        foreach (var derived in _objects.Names($"store/derived/{Checked(sha256)[..2]}", $"{sha256}."))
        {
            _objects.Delete(derived);
        }

        _objects.Delete(NameOf(sha256));
    }

    /// <exception cref="ArgumentException">Not a SHA-256.</exception>
    private static string NameOf(string sha256) => $"store/media/{Checked(sha256)[..2]}/{sha256}";

    private static string DerivedNameOf(string sha256, string what) => $"store/derived/{Checked(sha256)[..2]}/{sha256}.{what}";

    private static string Checked(string sha256) => FileHash.Is(sha256) ? sha256 : throw new ArgumentException("A stored file is named by its SHA-256.");
}
