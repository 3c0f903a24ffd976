namespace Lyrotrans.Core.Storing;

/// <summary>
/// Files by name, such as <c>packages/7f.zip</c>: a folder, or a bucket somewhere else. A name is parts of letters, digits, <c>-</c> and <c>.</c>, parted by <c>/</c>.
/// A file is there whole or not at all. Can be used by several threads at once.
/// </summary>
public interface IObjectStore
{
    /// <summary>Null where there is none.</summary>
    IStoredFile? Find(string name);

    /// <summary>Writes a file; one of this name is replaced.</summary>
    /// <exception cref="IOException">It cannot be written; nothing was changed.</exception>
    void Put(string name, Action<Stream> write);

    /// <summary>Takes a finished local file, which is gone from its place then; one of this name is replaced.</summary>
    /// <exception cref="IOException">It cannot be taken; it is where it was.</exception>
    void Take(string name, string path);

    /// <summary>The names in one folder, such as <c>store/derived/7f</c>, that begin so.</summary>
    IEnumerable<string> Names(string folder, string beginning);

    /// <summary>Nothing where there is none.</summary>
    void Delete(string name);

    /// <summary>Deletes every file in one folder; nothing where there is none.</summary>
    void DeleteAll(string folder);
}
