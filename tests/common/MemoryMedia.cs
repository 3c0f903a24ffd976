using Lyrotrans.Core.Storing;

namespace Lyrotrans.Testing;

/// <summary>The media of one room, on no disk.</summary>
public sealed class MemoryMedia(string scratch) : IMediaStore
{
    private readonly MemoryObjects _objects = new(scratch);

    public string Scratch => scratch;

    public bool Has(string sha256) => ObjectName.IsValid(sha256) && _objects.Find(sha256) is not null;

    public IStoredFile FileOf(string sha256) => _objects.Find(sha256) ?? throw new InvalidOperationException(sha256);

    public Task TakeAsync(string path, string sha256, CancellationToken stop)
    {
        _objects.Take(sha256, path);
        return Task.CompletedTask;
    }

    public IStoredFile? DerivedOf(string sha256, string what) => _objects.Find($"{sha256}.{what}");

    public void KeepDerived(string sha256, string what, Action<Stream> write) => _objects.Put($"{sha256}.{what}", write);
}
