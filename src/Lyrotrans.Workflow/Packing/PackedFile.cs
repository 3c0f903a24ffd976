namespace Lyrotrans.Workflow.Packing;

/// <summary>A finished file of a package: all that a zip around it says of it.</summary>
/// <param name="Path">In the package, with <c>/</c>.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex; its name where the package is kept.</param>
/// <param name="Crc32">Of its bytes.</param>
/// <param name="SizeKnown">Whether its length was known before it was written; if not, its header in a zip has room for any.</param>
public sealed record PackedFile(string Path, long Bytes, string Sha256, uint Crc32, bool SizeKnown);
