using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Handing;

/// <summary>A file that is put into a folder, and what it must be there.</summary>
/// <param name="Path">Below the folder, with <c>/</c>.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex.</param>
/// <param name="File">Where it comes from.</param>
public sealed record HandedFile(string Path, long Bytes, string Sha256, IStoredFile File);
