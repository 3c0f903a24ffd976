namespace Lyrotrans.Core.Storing;

/// <summary>A file on a local disk, to be opened by path as long as this is not closed.</summary>
/// <param name="path">On disk.</param>
/// <param name="remove">For a copy, what takes it away at the end; null for a file that lies there.</param>
public sealed class LocalFile(string path, Action? remove) : IDisposable
{
    /// <summary>On disk, until this is closed.</summary>
    public string Path => path;

    /// <summary>Whether it goes away when this is closed.</summary>
    public bool IsCopy => remove is not null;

    public void Dispose() => remove?.Invoke();
}
