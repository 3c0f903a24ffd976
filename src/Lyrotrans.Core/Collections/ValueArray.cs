using System.Collections;
using System.Runtime.CompilerServices;

namespace Lyrotrans.Core.Collections;

/// <summary>An array that never changes and is equal to another when its elements are. The default value is empty.</summary>
[CollectionBuilder(typeof(ValueArray), nameof(ValueArray.Create))]
public readonly struct ValueArray<T> : IReadOnlyList<T>, IEquatable<ValueArray<T>>
{
    private readonly T[]? _items;

    internal ValueArray(T[] owned) => _items = owned;

    public int Count => _items?.Length ?? 0;

    public T this[int index] => (_items ?? [])[index];

    public static bool operator ==(ValueArray<T> a, ValueArray<T> b) => a.Equals(b);

    public static bool operator !=(ValueArray<T> a, ValueArray<T> b) => !a.Equals(b);

    /// <summary>Its items, without a copy.</summary>
    public ReadOnlySpan<T> AsSpan() => _items;

    public bool Equals(ValueArray<T> other)
    {
        if (Count != other.Count)
        {
            return false;
        }

        var comparer = EqualityComparer<T>.Default;
        for (var i = 0; i < Count; i++)
        {
            if (!comparer.Equals(this[i], other[i]))
            {
                return false;
            }
        }

        return true;
    }

    public override bool Equals(object? obj) => obj is ValueArray<T> other && Equals(other);

    public override int GetHashCode()
    {
        var hash = default(HashCode);
        foreach (var item in this)
        {
            hash.Add(item);
        }

        return hash.ToHashCode();
    }

    public IEnumerator<T> GetEnumerator() => ((IEnumerable<T>)(_items ?? [])).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
