namespace Lyrotrans.Core.Collections;

/// <summary>Makes <see cref="ValueArray{T}"/> values.</summary>
public static class ValueArray
{
    /// <summary>Of items that are copied; what a collection expression calls.</summary>
    public static ValueArray<T> Create<T>(ReadOnlySpan<T> items) => new(items.ToArray());

    /// <summary>Its items, enumerated once.</summary>
    public static ValueArray<T> ToValueArray<T>(this IEnumerable<T> items) => new(items.ToArray());
}
