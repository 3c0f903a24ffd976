namespace Lyrotrans.Core.Storing;

/// <summary>
/// The files that one room brought in, by the SHA-256 of their bytes. What is in it never changes. A hash that others brought in is not in it, whatever names it.
/// </summary>
public interface IMediaStore
{
    /// <summary>A local folder for files that live only as long as some work.</summary>
    string Scratch { get; }

    /// <summary>Whether the room brought in a file of this hash.</summary>
    bool Has(string sha256);

    /// <exception cref="InvalidOperationException">It is not in here; ask <see cref="Has"/> first.</exception>
    IStoredFile FileOf(string sha256);

    /// <summary>Takes a finished local file whose hash was computed from its bytes just now; it is gone from its place then.</summary>
    Task TakeAsync(string path, string sha256, CancellationToken stop);

    /// <summary>What was made from the bytes and kept, such as their peaks; null where it was not made yet.</summary>
    /// <exception cref="InvalidOperationException">The bytes are not in here; ask <see cref="Has"/> first.</exception>
    IStoredFile? DerivedOf(string sha256, string what);

    /// <summary>Keeps what was made from the bytes.</summary>
    /// <exception cref="InvalidOperationException">The bytes are not in here; ask <see cref="Has"/> first.</exception>
    void KeepDerived(string sha256, string what, Action<Stream> write);
}
