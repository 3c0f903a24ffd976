namespace Lyrotrans.Formats.Compound;

/// <summary>Bytes that lie together in the file.</summary>
internal readonly record struct SectorRun(long Offset, long Bytes);
