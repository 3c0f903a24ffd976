namespace Lyrotrans.Formats.Compound;

/// <summary>A storage to be written: its class, and the storages and streams in it.</summary>
public sealed class CompoundStorage(string name, Guid type)
{
    public string Name { get; } = name;

    public Guid Class { get; } = type;

    public List<CompoundStorage> Storages { get; } = [];

    public List<CompoundContent> Streams { get; } = [];
}
