using System.Collections.Concurrent;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Testing;

/// <summary>Files that lie on no disk, as a bucket's do not: whoever needs a path gets a copy, and how many of those are open is counted.</summary>
public sealed class MemoryObjects(string scratch) : IObjectStore
{
    private readonly ConcurrentDictionary<string, byte[]> _files = [];

    public IEnumerable<string> All => _files.Keys;

    public IEnumerable<string> Names(string folder, string beginning) => _files.Keys.Where(n => n.StartsWith($"{folder}/{beginning}", StringComparison.Ordinal)).ToList();

    public IStoredFile? Find(string name) => Valid(name) && _files.TryGetValue(name, out var bytes) ? new MemoryFile(bytes, scratch) : null;

    public void Put(string name, Action<Stream> write)
    {
        using var output = new MemoryStream();
        write(output);
        _files[Valid(name) ? name : string.Empty] = output.ToArray();
    }

    public void Take(string name, string path)
    {
        _files[Valid(name) ? name : string.Empty] = File.ReadAllBytes(path);
        File.Delete(path);
    }

    public void Delete(string name) => _files.TryRemove(name, out _);

    public void DeleteAll(string folder)
    {
        foreach (var name in Names(folder, string.Empty))
        {
            Delete(name);
        }
    }

    private static bool Valid(string name) => ObjectName.IsValid(name) ? true : throw new ArgumentException(name);

    private sealed class MemoryFile(byte[] bytes, string scratch) : IStoredFile
    {
        public long Length => bytes.Length;

        public Stream Open() => new MemoryStream(bytes, writable: false);

        public LocalFile Local()
        {
            Directory.CreateDirectory(scratch);
            var path = Path.Combine(scratch, Guid.NewGuid().ToString("N"));
            File.WriteAllBytes(path, bytes);
            return new LocalFile(path, () => File.Delete(path));
        }
    }
}
