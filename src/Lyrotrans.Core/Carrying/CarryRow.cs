using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Carrying;

/// <summary>One kind of thing in the carry plan: how many objects there are, and what each column does with each.</summary>
/// <param name="Kind">Such as <c>Clip positions</c>.</param>
/// <param name="Objects">Every object, with its name and its fate in each column.</param>
public sealed record CarryRow(string Kind, ValueArray<CarryObject> Objects)
{
    /// <summary>Objects that at least one column brings.</summary>
    public int Brought => Objects.Count(o => o.Fates.Any(f => f is Fate.Carried or Fate.Converted or Fate.Printed));

    /// <summary>How many of its objects come to a fate in a column, counted from 0.</summary>
    public int Count(int column, Fate fate) => Objects.Count(o => o.Fates[column] == fate);

    /// <summary>Objects that no column brings and that nobody held back: there must be none.</summary>
    public int LostWithoutAWord => Objects.Count(o => o.Fates.All(f => f == Fate.None));
}
