using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Carrying;

/// <summary>What an output is good for beside the smallest set.</summary>
/// <param name="Output">It.</param>
/// <param name="Goes">Whether it is chosen now.</param>
/// <param name="IsNeeded">Whether it is in the smallest set.</param>
/// <param name="Brings">How many of the objects that go it brings as well as any.</param>
/// <param name="Adds">Kinds of objects, and how many of each no other output of the smallest set brings as well; of one that is in the set, what would be missing without it.</param>
public sealed record OutputUse(CarryOutput Output, bool Goes, bool IsNeeded, int Brings, ValueArray<(string Kind, int Objects)> Adds);
