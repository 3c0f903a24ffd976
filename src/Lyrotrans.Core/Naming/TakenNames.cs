namespace Lyrotrans.Core.Naming;

/// <summary>Names of which each may be there once: a later one that is taken already gets a number.</summary>
/// <param name="comparer">When two names are the same; none is when they are equal.</param>
public sealed class TakenNames(IEqualityComparer<string>? comparer = null)
{
    private readonly HashSet<string> _taken = new(comparer);

    /// <summary>Names that are taken before any is asked for.</summary>
    public TakenNames Taking(IEnumerable<string> names)
    {
        _taken.UnionWith(names);
        return this;
    }

    /// <summary>The name as it is, or with the first number from 2 on that makes it free; it is taken then.</summary>
    /// <param name="name">As it is wanted.</param>
    /// <param name="numbered">The name with a number.</param>
    public string Free(string name, Func<int, string> numbered)
    {
        var free = name;
        for (var n = 2; !_taken.Add(free); n++)
        {
            free = numbered(n);
        }

        return free;
    }

    /// <summary>The same with the number after a mark, such as <c>name_2</c>.</summary>
    public string Free(string name, char mark) => Free(name, n => FormattableString.Invariant($"{name}{mark}{n}"));

    /// <summary>The same with the number before the extension, such as <c>name_2.wav</c>.</summary>
    public string FreeFile(string name, char mark) => Free(name, n => FormattableString.Invariant($"{Path.GetFileNameWithoutExtension(name)}{mark}{n}{Path.GetExtension(name)}"));
}
