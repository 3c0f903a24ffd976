namespace Lyrotrans.Core.Collections;

/// <summary>Makes <see cref="ValueArray{T}"/> values.</summary>
public static class ValueArray
{
    public static ValueArray<T> Create<T>(ReadOnlySpan<T> items) => new(items.ToArray());

    public static ValueArray<T> ToValueArray<T>(this IEnumerable<T> items) => new(items.ToArray());
}
