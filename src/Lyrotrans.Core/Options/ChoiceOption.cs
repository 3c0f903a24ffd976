namespace Lyrotrans.Core.Options;

/// <summary>An option that has one of a few values; they are named by their identifiers.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="values">Identifiers and what they are called in a form, in the order in which they are offered.</param>
/// <param name="of">The identifier of the value that a record of choices has.</param>
/// <param name="with">The record with the value of an identifier, which is one of <paramref name="values"/>.</param>
/// <param name="change">What is told of a record where the value became another.</param>
public sealed class ChoiceOption<T>(string id, string label, string about, IReadOnlyList<(string Id, string Words)> values, Func<T, string> of, Func<T, string, T> with, Func<T, string> change)
    : ValueOption<T, string>(id, label, about, of, with, change)
{
    /// <summary>Identifiers and what they are called in a form, in the order in which they are offered.</summary>
    public IReadOnlyList<(string Id, string Words)> Values { get; } = values;

    /// <summary>Of a choice that documents of before did not have, the value that they meant: it is not written. Null where every value is.</summary>
    public string? Unsaid { get; init; }

    /// <summary>Whether there is a value of this identifier.</summary>
    public bool Has(string value) => Values.Any(v => v.Id == value);
}
