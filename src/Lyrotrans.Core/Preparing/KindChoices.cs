using System.Collections;

namespace Lyrotrans.Core.Preparing;

/// <summary>What was chosen for single kinds of files; a kind of which nothing was chosen is as usual. Immutable, equal by value.</summary>
public sealed record KindChoices : IEnumerable<KeyValuePair<FileKind, KindChoice>>
{
    private static readonly KindChoice s_usual = new();
    private readonly SortedList<FileKind, KindChoice> _chosen = [];

    /// <summary>What was chosen for a kind; nothing where it is as usual.</summary>
    public KindChoice this[FileKind kind] => _chosen.GetValueOrDefault(kind, s_usual);

    /// <summary>Whether anything was chosen.</summary>
    public bool Any => _chosen.Count > 0;

    /// <summary>These with another choice for a kind.</summary>
    public KindChoices With(FileKind kind, KindChoice choice)
    {
        var others = new KindChoices();
        foreach (var (other, chosen) in _chosen.Where(c => c.Key != kind).Append(KeyValuePair.Create(kind, choice)).Where(c => c.Value != s_usual))
        {
            others._chosen[other] = chosen;
        }

        return others;
    }

    /// <inheritdoc/>
    public bool Equals(KindChoices? other) => other is not null && _chosen.SequenceEqual(other._chosen);

    /// <inheritdoc/>
    public override int GetHashCode() => _chosen.Aggregate(0, HashCode.Combine);

    /// <summary>The kinds of which something was chosen, in their order.</summary>
    public IEnumerator<KeyValuePair<FileKind, KindChoice>> GetEnumerator() => _chosen.GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
