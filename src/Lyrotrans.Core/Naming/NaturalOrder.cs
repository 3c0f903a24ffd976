namespace Lyrotrans.Core.Naming;

/// <summary>Names as people sort them: digits by the number that they say, <c>Tom 2</c> before <c>Tom 10</c>; all else by letters, without regard to case.</summary>
public sealed class NaturalOrder : IComparer<string>
{
    private NaturalOrder()
    {
    }

    /// <summary>The only one.</summary>
    public static NaturalOrder Comparer { get; } = new();

    public int Compare(string? x, string? y)
    {
        if (x is null || y is null)
        {
            return Comparer<bool>.Default.Compare(x is not null, y is not null);
        }

        var (i, k) = (0, 0);
        while (i < x.Length && k < y.Length)
        {
            var a = Piece(x, ref i);
            var b = Piece(y, ref k);
            var order = char.IsAsciiDigit(a[0]) && char.IsAsciiDigit(b[0]) ? Numbers(a, b) : a.CompareTo(b, StringComparison.OrdinalIgnoreCase);
            if (order != 0)
            {
                return order;
            }
        }

        return (x.Length - i) - (y.Length - k) is var rest && rest != 0 ? rest : string.CompareOrdinal(x, y);
    }

    // Digits that follow each other, or one other character.
    private static ReadOnlySpan<char> Piece(string text, ref int at)
    {
        var from = at++;
        while (char.IsAsciiDigit(text[from]) && at < text.Length && char.IsAsciiDigit(text[at]))
        {
            at++;
        }

        return text.AsSpan(from, at - from);
    }

    private static int Numbers(ReadOnlySpan<char> a, ReadOnlySpan<char> b)
    {
        a = a.TrimStart('0');
        b = b.TrimStart('0');
        return a.Length != b.Length ? a.Length - b.Length : a.CompareTo(b, StringComparison.Ordinal);
    }
}
