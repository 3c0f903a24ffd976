namespace Lyrotrans.Formats.Compound;

/// <summary>One entry of a compound file's directory.</summary>
/// <param name="Index">Its place in the directory.</param>
/// <param name="Class">The class identifier of a storage; empty where it has none.</param>
/// <param name="Start">First sector of a stream, or of the mini stream for the root.</param>
/// <param name="Size">In bytes, for a stream.</param>
/// <remarks>docs/formats/compound.md, section 3.</remarks>
public sealed record CompoundEntry(int Index, string Name, CompoundEntryKind Kind, Guid Class, uint Start, long Size)
{
    /// <summary>Siblings that sort before and after, and the top of the tree of children; −1 where there is none.</summary>
    internal int Before { get; init; } = -1;

    internal int After { get; init; } = -1;

    internal int Child { get; init; } = -1;
}
