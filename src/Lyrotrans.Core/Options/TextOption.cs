namespace Lyrotrans.Core.Options;

/// <summary>An option that is typed as text; null where it is left out of documents.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="of">The text that a record of choices has.</param>
/// <param name="with">The record with another text.</param>
/// <param name="change">What is told of a record where the text became another.</param>
public sealed class TextOption<T>(string id, string label, string about, Func<T, string?> of, Func<T, string?, T> with, Func<T, string> change)
    : ValueOption<T, string?>(id, label, about, of, with, change)
{
    /// <summary>Why a typed text cannot be taken; null where it can.</summary>
    public Func<string, string?> Problem { get; init; } = _ => null;
}
