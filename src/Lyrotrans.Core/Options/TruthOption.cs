namespace Lyrotrans.Core.Options;

/// <summary>An option that is true or false.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="of">Whether a record of choices has it.</param>
/// <param name="with">The record with it or without.</param>
/// <param name="no">What is told where it became false.</param>
/// <param name="yes">What is told where it became true.</param>
public sealed class TruthOption<T>(string id, string label, string about, Func<T, bool> of, Func<T, bool, T> with, string no, string yes)
    : ValueOption<T, bool>(id, label, about, of, with, choices => of(choices) ? yes : no)
{
    /// <summary>What false and true are called in a form that offers both; none is a box to check.</summary>
    public (string No, string Yes)? Words { get; init; }

    /// <summary>Whether documents leave it out where it is false.</summary>
    public bool OnlyTrue { get; init; }

    /// <summary>What documents of before call it.</summary>
    public string? FormerId { get; init; }
}
