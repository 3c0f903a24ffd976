using System.Diagnostics.CodeAnalysis;

namespace Lyrotrans.Core.Naming;

/// <summary>When some system takes two names for one: but for case, and for how marks are put on letters.</summary>
public sealed class SameName : IEqualityComparer<string>
{
    private SameName()
    {
    }

    /// <summary>The only one.</summary>
    public static SameName Comparer { get; } = new();

    public bool Equals(string? a, string? b) =>
        string.Equals(a, b, StringComparison.Ordinal) || (a is not null && b is not null && string.Equals(Composed.Of(a), Composed.Of(b), StringComparison.OrdinalIgnoreCase));

    public int GetHashCode([DisallowNull] string name) => StringComparer.OrdinalIgnoreCase.GetHashCode(Composed.Of(name));
}
