using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Packing;

/// <summary>An entry of an archive that was unpacked, or could not be.</summary>
/// <param name="Name">As the archive has it, with <c>/</c>.</param>
/// <param name="Path">On disk; there is no such file where it could not be unpacked.</param>
/// <param name="Problem">Why it could not be; null where it was.</param>
public sealed record UnpackedEntry(string Name, string Path, Finding? Problem);
