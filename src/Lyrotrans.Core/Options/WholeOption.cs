namespace Lyrotrans.Core.Options;

/// <summary>An option that is a whole number; null where it is left out of documents.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
/// <param name="of">The number that a record of choices has.</param>
/// <param name="with">The record with another number.</param>
/// <param name="change">What is told of a record where the number became another.</param>
public sealed class WholeOption<T>(string id, string label, string about, Func<T, long?> of, Func<T, long?, T> with, Func<T, string> change)
    : ValueOption<T, long?>(id, label, about, of, with, change)
{
    /// <summary>What it counts.</summary>
    public WholeUnit Unit { get; init; }

    /// <summary>For places: whether it is an end, so that a marker that has a length means its end.</summary>
    public bool AtEnd { get; init; }

    /// <summary>The least that a document may say.</summary>
    public long Least { get; init; } = long.MinValue;

    /// <summary>The most that a document may say.</summary>
    public long Most { get; init; } = long.MaxValue;

    /// <summary>For durations: the most that can be typed, in seconds.</summary>
    public int MostSeconds { get; init; }

    /// <summary>The numbers that a form offers; none is any that is typed.</summary>
    public IReadOnlyList<long> Offered { get; init; } = [];

    /// <summary>Whether there are no others than the offered ones.</summary>
    public bool OnlyOffered { get; init; }

    /// <summary>Whether it can be this number.</summary>
    public bool Takes(long number) => number >= Least && number <= Most && (!OnlyOffered || Offered.Contains(number));

    /// <summary>What the offered numbers are of.</summary>
    public string OfferedIn { get; init; } = "Hz";

    /// <summary>Whether it can be left empty.</summary>
    public bool MayBeEmpty { get; init; }

    /// <summary>What can be typed, in words.</summary>
    public required string Range { get; init; }
}
