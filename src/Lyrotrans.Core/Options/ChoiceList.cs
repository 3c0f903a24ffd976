using System.Collections;

namespace Lyrotrans.Core.Options;

/// <summary>The values of an option, in the order in which they are offered: every value of its enumeration that can be chosen, once. What is written, shown and told of an option comes from here.</summary>
public sealed class ChoiceList<T> : IEnumerable<Choice<T>>
    where T : struct, Enum
{
    private readonly List<Choice<T>> _choices = [];

    /// <summary>By their identifiers, for reading documents.</summary>
    public IReadOnlyDictionary<string, T> ById => _choices.ToDictionary(c => c.Id, c => c.Value);

    /// <summary>What a value is called.</summary>
    /// <exception cref="KeyNotFoundException">The enumeration has no such value.</exception>
    public Choice<T> this[T value] => _choices.Find(c => c.Value.Equals(value)) ?? throw new KeyNotFoundException($"{typeof(T).Name} has no {value}.");

    /// <summary>Adds a value at the end.</summary>
    public void Add(T value, string id, string words, string change) => _choices.Add(new Choice<T>(value, id, words, change));

    /// <summary>Of a value that has the same words wherever it is said.</summary>
    public void Add(T value, string words) => Add(value, words, words, words);

    public IEnumerator<Choice<T>> GetEnumerator() => _choices.GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
