namespace Lyrotrans.Core.Storing;

/// <summary>
/// The files that one room brought in, by the SHA-256 of their bytes. What is in it never changes. A hash that others brought in is not in it, whatever names it.
/// </summary>
public interface IMediaStore
{
    /// <summary>A folder for files that live only as long as some work.</summary>
    string Scratch { get; }

    bool Has(string sha256);

    /// <summary>Where the bytes lie; for libraries that open files by path.</summary>
    /// <exception cref="InvalidOperationException">It is not in here; ask <see cref="Has"/> first.</exception>
    string PathOf(string sha256);

    /// <summary>Takes a finished file into the store by moving it, and gives its SHA-256 in lower-case hex.</summary>
    Task<string> TakeAsync(string path, CancellationToken stop);

    /// <summary>Where something made from the bytes lies, such as its peaks; the file may not exist yet.</summary>
    /// <exception cref="InvalidOperationException">The bytes are not in here; ask <see cref="Has"/> first.</exception>
    string DerivedPathOf(string sha256, string what);
}
