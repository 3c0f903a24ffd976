namespace Lyrotrans.Core.Options;

/// <summary>An option with values of one type.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="of">The value that a record of choices has.</param>
/// <param name="with">The record with another value.</param>
/// <param name="change">What is told of a record where the value became another.</param>
public abstract class ValueOption<T, TValue>(string id, string label, string about, Func<T, TValue> of, Func<T, TValue, T> with, Func<T, string> change) : Option<T>(id, label, about)
{
    /// <summary>The value that a record of choices has.</summary>
    public TValue Of(T choices) => of(choices);

    /// <summary>The record with another value.</summary>
    public T With(T choices, TValue value) => with(choices, value);

    /// <inheritdoc/>
    public override string? Changed(T before, T after) => EqualityComparer<TValue>.Default.Equals(of(before), of(after)) ? null : change(after);
}
