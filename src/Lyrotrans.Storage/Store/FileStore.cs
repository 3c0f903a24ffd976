using System.Security.Cryptography;

namespace Lyrotrans.Storage.Store;

/// <summary>
/// Files by the SHA-256 of their bytes, in folders by its first two digits. A file is written to a temporary name, synced and
/// renamed, so that a name in the store is always whole; it never changes after that. Rooms that brought in the same bytes share them, so nothing outside
/// this project can reach a file by its hash alone: media go through <see cref="RoomMedia"/>, documents through <c>DocumentStore</c>.
/// </summary>
public sealed class FileStore
{
    private readonly string _root;

    public FileStore(string root)
    {
        _root = root;
        Directory.CreateDirectory(Incoming);
        Directory.CreateDirectory(Scratch);
    }

    /// <summary>Where files lie before they are taken; on the same disk, so that taking is a rename.</summary>
    public string Incoming => Path.Combine(_root, "incoming");

    /// <summary>For files that live only as long as some work.</summary>
    public string Scratch => Path.Combine(_root, "scratch");

    internal bool Has(string sha256) => IsHash(sha256) && File.Exists(PathOf(sha256));

    /// <exception cref="ArgumentException">Not a SHA-256.</exception>
    internal string PathOf(string sha256) => Path.Combine(_root, "media", Checked(sha256)[..2], sha256);

    internal string DerivedPathOf(string sha256, string what) => Path.Combine(_root, "derived", Checked(sha256)[..2], $"{sha256}.{what}");

    /// <summary>The SHA-256 of a file, which is then safe on disk.</summary>
    public static async Task<string> HashAsync(string path, CancellationToken stop)
    {
        await using var input = new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.None, 1 << 20, FileOptions.Asynchronous | FileOptions.SequentialScan);
        var sha256 = Convert.ToHexStringLower(await SHA256.HashDataAsync(input, stop));
        input.Flush(flushToDisk: true);
        return sha256;
    }

    /// <summary>Moves a file of a known hash into the store.</summary>
    internal void Move(string path, string sha256)
    {
        var target = PathOf(sha256);
        if (File.Exists(target))
        {
            File.Delete(path);
            return;
        }

        Directory.CreateDirectory(Path.GetDirectoryName(target)!);
        File.Move(path, target, overwrite: true);
    }

    internal static bool IsHash(string text) => text.Length == 64 && text.All(char.IsAsciiHexDigitLower);

    private static string Checked(string sha256) => IsHash(sha256) ? sha256 : throw new ArgumentException("A stored file is named by its SHA-256.");
}
