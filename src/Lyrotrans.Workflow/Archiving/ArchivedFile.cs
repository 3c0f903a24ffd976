namespace Lyrotrans.Workflow.Archiving;

/// <summary>A file of an archive.</summary>
/// <param name="Path">Inside the archive, with <c>/</c>.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex.</param>
/// <param name="Bytes">Its size.</param>
public sealed record ArchivedFile(string Path, string Sha256, long Bytes);
