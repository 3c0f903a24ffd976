namespace Lyrotrans.Cli;

/// <summary>A folder that is deleted with its contents.</summary>
internal sealed class ScratchFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("lyro-").FullName;

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
