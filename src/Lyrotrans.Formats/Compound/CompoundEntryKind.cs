namespace Lyrotrans.Formats.Compound;

/// <summary>What a directory entry of a compound file is (its object type byte).</summary>
/// <remarks>docs/formats/compound.md, section 3.</remarks>
public enum CompoundEntryKind : byte
{
    Free = 0,
    Storage = 1,
    Stream = 2,
    Root = 5,
}
