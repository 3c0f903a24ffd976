using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Packing;

/// <summary>A file of a package, and where it lies.</summary>
/// <param name="Path">In the package, or below the folder that it is put into, with <c>/</c>.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex.</param>
/// <param name="File">Where it lies.</param>
public sealed record KeptFile(string Path, long Bytes, string Sha256, IStoredFile File);
