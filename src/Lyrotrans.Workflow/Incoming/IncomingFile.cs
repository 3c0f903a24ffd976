using Lyrotrans.Core.Delivering;

namespace Lyrotrans.Workflow.Incoming;

/// <summary>A file of a package that was brought in, as the package's manifest states it.</summary>
/// <param name="Path">In the package's folder, with <c>/</c>.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="IsStandIn">Whether it is notes with a sound that only stands for their instrument's.</param>
public sealed record IncomingFile(string Path, PlannedKind Kind, string Sha256, long Bytes, bool IsStandIn);
