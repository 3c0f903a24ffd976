namespace Lyrotrans.Core.Options;

/// <summary>An option that is a number with a fraction.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="of">The number that a record of choices has.</param>
/// <param name="with">The record with another number.</param>
/// <param name="change">What is told of a record where the number became another.</param>
public sealed class NumberOption<T>(string id, string label, string about, Func<T, double> of, Func<T, double, T> with, Func<T, string> change)
    : ValueOption<T, double>(id, label, about, of, with, change)
{
    /// <summary>The least that can be typed.</summary>
    public required double Least { get; init; }

    /// <summary>The most that can be typed.</summary>
    public required double Most { get; init; }

    /// <summary>What can be typed, in words.</summary>
    public required string Range { get; init; }
}
