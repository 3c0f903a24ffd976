namespace Lyrotrans.Formats.Compound;

/// <summary>A storage to be written: its class, and the storages and streams in it.</summary>
public sealed class CompoundStorage(string name, Guid type)
{
    /// <summary>In the storage around it, where no other has it.</summary>
    public string Name { get; } = name;

    /// <summary>The class identifier; all zeros is none.</summary>
    public Guid Class { get; } = type;

    /// <summary>The storages in it.</summary>
    public List<CompoundStorage> Storages { get; } = [];

    /// <summary>The streams in it.</summary>
    public List<CompoundContent> Streams { get; } = [];
}
