using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Handover;

/// <summary>Things that do not arrive as what they are here, and what stands for all of them alike.</summary>
/// <param name="Kinds">Rows of the carry plan, and how many objects of each; at least one.</param>
/// <param name="Fate">What became of them; held back where nothing but the session document has them.</param>
/// <param name="Names">The first few in words, where they are of one kind; else empty.</param>
/// <param name="Instead">What to do, or where they are.</param>
public sealed record LeftBehind(ValueArray<(string Kind, int Count)> Kinds, Fate Fate, string Names, string Instead);
