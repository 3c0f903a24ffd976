namespace Lyrotrans.Core.Storing;

/// <summary>Files kept by the SHA-256 of their bytes. What is in it never changes.</summary>
public interface IMediaStore
{
    bool Has(string sha256);

    /// <summary>Where the bytes lie; for libraries that open files by path.</summary>
    string PathOf(string sha256);

    /// <summary>Takes a finished file into the store by moving it, and gives its SHA-256 in lower-case hex.</summary>
    Task<string> TakeAsync(string path, CancellationToken stop);

    /// <summary>Where something made from the bytes lies, such as its peaks; the file may not exist yet.</summary>
    string DerivedPathOf(string sha256, string what);
}
