using Lyrotrans.Core.Storing;

namespace Lyrotrans.Web.Keeping;

/// <summary>A file of a kept package.</summary>
/// <param name="Path">In the package, with <c>/</c>.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex, as they were when it was kept.</param>
/// <param name="File">Where it lies.</param>
public sealed record KeptFile(string Path, long Bytes, string Sha256, IStoredFile File);
