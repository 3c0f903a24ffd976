using Lyrotrans.Core.Storing;
using Lyrotrans.Files;

namespace Lyrotrans.Storage.Store;

/// <summary>Files in a folder and those below it. A file is written to a name of its own, synced and renamed, so that a name is always whole.</summary>
/// <param name="root">The folder; it is made when something is put in.</param>
public sealed class FolderObjects(string root) : IObjectStore
{
    public IStoredFile? Find(string name) => PathOf(name) is var path && File.Exists(path) ? new DiskFile(path) : null;

    public void Put(string name, Action<Stream> write) => WholeFile.Write(PathOf(name), write);

    public void Take(string name, string path)
    {
        var target = PathOf(name);
        Directory.CreateDirectory(Path.GetDirectoryName(target)!);
        File.Move(path, target, overwrite: true);
    }

    public IEnumerable<string> Names(string folder, string beginning) => PathOf(folder) is var path && Directory.Exists(path)
        ? Directory.EnumerateFiles(path).Select(f => Path.GetFileName(f)).Where(n => n.StartsWith(beginning, StringComparison.Ordinal)).Select(n => $"{folder}/{n}").ToList() : [];

    public void Delete(string name)
    {
        if (PathOf(name) is var path && File.Exists(path))
        {
            File.Delete(path);
        }
    }

    public void DeleteAll(string folder)
    {
        if (PathOf(folder) is var path && Directory.Exists(path))
        {
            Directory.Delete(path, recursive: true);
        }
    }

    // A name comes from the program, never from outside; one that would leave the folder is a mistake of ours.
    private string PathOf(string name) => ObjectName.IsValid(name) ? Path.Combine(root, name) : throw new ArgumentException($"\"{name}\" is no name of a stored file.");
}
