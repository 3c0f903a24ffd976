namespace Lyrotrans.Formats.Compound;

/// <summary>
/// The directory of a compound file to be written: every entry with its number, and the siblings of each storage as a balanced
/// red-black tree. Siblings are ordered by the length of their names and then by upper-cased code units.
/// </summary>
/// <remarks>docs/formats/compound.md, section 3.</remarks>
internal sealed class DirectoryTree
{
    private static readonly Comparer<DirectoryNode> s_order = Comparer<DirectoryNode>.Create(Compare);

    public DirectoryTree(CompoundStorage root)
    {
        Nodes.Add(new DirectoryNode(root, null) { IsBlack = true });
        for (var i = 0; i < Nodes.Count; i++)
        {
            if (Nodes[i].Storage is { } storage)
            {
                Nodes[i].Child = Add(storage);
            }
        }
    }

    /// <summary>The root first; a node's number is its place.</summary>
    public List<DirectoryNode> Nodes { get; } = [];

    private int Add(CompoundStorage storage)
    {
        var count = storage.Storages.Count + storage.Streams.Count;
        if (count == 0)
        {
            return -1;
        }

        var nodes = new DirectoryNode[count];
        var at = 0;
        foreach (var child in storage.Storages)
        {
            nodes[at++] = new DirectoryNode(child, null);
        }

        foreach (var stream in storage.Streams)
        {
            nodes[at++] = new DirectoryNode(null, stream);
        }

        Array.Sort(nodes, s_order);
        for (var i = 1; i < count; i++)
        {
            if (s_order.Compare(nodes[i - 1], nodes[i]) == 0)
            {
                throw new ArgumentException($"The storage \"{storage.Name}\" would hold \"{nodes[i].Name}\" twice.", nameof(storage));
            }
        }

        var first = Nodes.Count;
        Nodes.AddRange(nodes);

        // A tree cut in halves differs by one level at most; the lowest level is red where it is not full.
        var levels = 32 - System.Numerics.BitOperations.LeadingZeroCount((uint)count);
        var isFull = count == (1 << levels) - 1;
        return Balance(first, count, isFull ? levels + 1 : levels);
    }

    private int Balance(int first, int count, int redAt)
    {
        if (count == 0)
        {
            return -1;
        }

        var middle = first + (count / 2);
        var node = Nodes[middle];
        node.IsBlack = redAt > 1;
        node.Before = Balance(first, middle - first, redAt - 1);
        node.After = Balance(middle + 1, first + count - middle - 1, redAt - 1);
        return middle;
    }

    private static int Compare(DirectoryNode? a, DirectoryNode? b)
    {
        var (one, two) = (a!.Name, b!.Name);
        var order = one.Length.CompareTo(two.Length);
        for (var i = order == 0 ? one.AsSpan().CommonPrefixLength(two) : one.Length; order == 0 && i < one.Length; i++)
        {
            order = char.ToUpperInvariant(one[i]).CompareTo(char.ToUpperInvariant(two[i]));
        }

        return order;
    }
}
