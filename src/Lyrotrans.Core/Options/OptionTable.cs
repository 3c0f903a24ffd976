using System.Collections;

namespace Lyrotrans.Core.Options;

/// <summary>The options of one record of choices, in the order of its document. Forms, documents, their schema and the list of revisions ask it.</summary>
public sealed class OptionTable<T> : IEnumerable<Option<T>>
{
    private readonly List<Option<T>> _options = [];

    /// <exception cref="KeyNotFoundException">There is no option of this identifier.</exception>
    public Option<T> this[string id] => _options.Find(o => o.Id == id) ?? throw new KeyNotFoundException($"{typeof(T).Name} has no option {id}.");

    /// <summary>Adds an option at the end.</summary>
    public void Add(Option<T> option) => _options.Add(option);

    /// <summary>Adds an option that has one of a few values.</summary>
    public void Add<TValue>(string id, string label, string about, ChoiceList<TValue> list, Func<T, TValue> of, Func<T, TValue, T> with, bool required = false, Func<T, string>? change = null)
        where TValue : struct, Enum =>
        Add(new ChoiceOption<T>(
            id, label, about, [.. list.Select(c => (c.Id, c.Words))], o => list[of(o)].Id, (o, value) => with(o, list.ById[value]), change ?? (o => list[of(o)].Change))
        {
            Required = required,
        });

    /// <summary>What changed, a phrase for each change.</summary>
    public IEnumerable<string> Changes(T before, T after) => _options.Select(o => o.Changed(before, after)).OfType<string>().Distinct();

    /// <inheritdoc/>
    public IEnumerator<Option<T>> GetEnumerator() => _options.GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
