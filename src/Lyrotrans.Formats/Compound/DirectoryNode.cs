namespace Lyrotrans.Formats.Compound;

/// <summary>An entry of a directory to be written.</summary>
internal sealed class DirectoryNode(CompoundStorage? storage, CompoundContent? stream)
{
    public CompoundStorage? Storage { get; } = storage;

    public CompoundContent? Stream { get; } = stream;

    public string Name => Storage?.Name ?? Stream!.Name;

    public int Before { get; set; } = -1;

    public int After { get; set; } = -1;

    public int Child { get; set; } = -1;

    public bool IsBlack { get; set; }

    /// <summary>First sector, or first mini sector.</summary>
    public uint Start { get; set; }
}
