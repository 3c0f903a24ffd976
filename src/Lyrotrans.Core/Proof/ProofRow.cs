namespace Lyrotrans.Core.Proof;

/// <summary>One comparison: what was meant, what was found, and the difference, each with its unit.</summary>
/// <param name="Subject">A clip, track or file.</param>
/// <param name="What">Such as <c>start</c>.</param>
/// <param name="Code">For what goes without its sound, the code of its kind; null for all other rows.</param>
public sealed record ProofRow(string Subject, string What, string Meant, string Found, string Difference, bool Passed, string? Code = null);
