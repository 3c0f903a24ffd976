using System.Diagnostics.CodeAnalysis;

namespace Lyrotrans.Formats.Compound;

/// <summary>The entries in a storage, by name. Most storages have two or three, so these are a list and only long ones a table.</summary>
/// <remarks>docs/formats/compound.md, section 3.</remarks>
public sealed class CompoundChildren
{
    private const int Short = 12;
    private readonly List<CompoundEntry> _list = [];
    private Dictionary<string, CompoundEntry>? _table;

    /// <summary>In the order in which they were met.</summary>
    public IReadOnlyList<CompoundEntry> All => _list;

    /// <summary>Finds one by its exact name.</summary>
    public bool TryGetValue(string name, [MaybeNullWhen(false)] out CompoundEntry entry)
    {
        if (_table is not null)
        {
            return _table.TryGetValue(name, out entry);
        }

        foreach (var one in _list)
        {
            if (one.Name == name)
            {
                entry = one;
                return true;
            }
        }

        entry = null;
        return false;
    }

    internal bool TryAdd(CompoundEntry entry)
    {
        if (TryGetValue(entry.Name, out _))
        {
            return false;
        }

        _list.Add(entry);
        if (_table is null && _list.Count > Short)
        {
            _table = _list.ToDictionary(e => e.Name);
        }
        else
        {
            _table?.Add(entry.Name, entry);
        }

        return true;
    }
}
