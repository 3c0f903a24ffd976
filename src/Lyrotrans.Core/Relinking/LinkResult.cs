using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Relinking;

/// <summary>Which file a medium is bound to, why, and which others could be meant where none is.</summary>
/// <param name="Bound">The candidate's identifier; null where it stays missing.</param>
/// <param name="Reason">In words.</param>
/// <param name="Doubtful">Best first; the engineer chooses.</param>
public sealed record LinkResult(string? Bound, string Reason, ValueArray<Evidence> Doubtful);
