using System.Text;

namespace Lyrotrans.Formats.Tests;

/// <summary>Containers in the forms that our writer does not make: the other byte order, the coded table, and values in several parts.</summary>
internal sealed class OtherBento(bool big, bool coded, bool letters, int seed)
{
    public const uint First = 0x10000;
    private readonly Random _random = new(seed);
    private readonly List<byte> _table = [];
    private readonly List<byte> _values = [];
    private (uint, uint, uint)? _last;
    private int _entries;

    public byte[] Write(IEnumerable<(uint Owner, string Property, string Type, byte[] Bytes)> values)
    {
        var list = values.OrderBy(v => v.Owner).ToList();
        var names = list.Select(v => (v.Property, 0x18u)).Concat(list.Select(v => (v.Type, 0x17u))).Distinct().Select((n, i) => (n.Item1, Kind: n.Item2, Id: 0x20u + (uint)i)).ToList();
        Inside(1, 2, 15, Number(First + 100));
        foreach (var (name, kind, id) in names)
        {
            Add(id, kind, 0x15, Encoding.ASCII.GetBytes(name + '\0'));
        }

        foreach (var (owner, property, type, bytes) in list)
        {
            Add(First + owner, names.First(n => n.Item1 == property && n.Kind == 0x18).Id, names.First(n => n.Item1 == type && n.Kind == 0x17).Id, bytes);
        }

        return [.. _values, .. End((uint)_values.Count)];
    }

    /// <summary>What follows one value that begins the file and has so many bytes.</summary>
    public byte[] Tail(uint length)
    {
        Inside(1, 2, 15, Number(First + 1));
        Outside(First, 0x20, 0x21, 0, length, false);
        return End(length);
    }

    /// <summary>A value of ten bytes, and one in two parts of which the first lies beyond the file.</summary>
    public byte[] Broken()
    {
        Inside(1, 2, 15, Number(First + 1));
        Outside(First, 0x20, 0x21, 0, 10, false);
        Outside(First, 0x22, 0x21, 1 << 30, 10, true);
        Outside(First, 0x22, 0x21, 10, 10, false);
        return [.. new byte[20], .. End(20)];
    }

    /// <summary>Two values of the same bytes.</summary>
    public byte[] Shared(uint length)
    {
        Inside(1, 2, 15, Number(First + 1));
        Outside(First, 0x20, 0x21, 0, length, false);
        Outside(First, 0x22, 0x21, 100, length - 100, false);
        return [.. new byte[length], .. End(length)];
    }

    private void Add(uint owner, uint property, uint type, byte[] bytes)
    {
        if (bytes.Length <= 4 && (_random.Next(2) == 0 || bytes.Length == 0))
        {
            Inside(owner, property, type, bytes);
            return;
        }

        for (var at = 0; at < bytes.Length;)
        {
            var part = _random.Next(3) == 0 ? _random.Next(1, bytes.Length - at + 1) : bytes.Length - at;
            var offset = (uint)_values.Count;
            _values.AddRange(bytes.AsSpan(at, part).ToArray());
            at += part;
            Outside(owner, property, type, offset, (uint)part, at < bytes.Length);
        }
    }

    private void Inside(uint owner, uint property, uint type, byte[] bytes)
    {
        byte[] four = [.. bytes, .. new byte[4 - bytes.Length]];
        if (coded)
        {
            Name(owner, property, type);
            _table.AddRange([(byte)(9 + bytes.Length), .. bytes.Length == 0 ? [] : four]);
        }
        else
        {
            _table.AddRange([.. Number(owner), .. Number(property), .. Number(type), .. four, .. Number((uint)bytes.Length), .. Short(1), .. Short(1)]);
        }

        _entries++;
    }

    private void Outside(uint owner, uint property, uint type, uint offset, uint length, bool goesOn)
    {
        if (coded)
        {
            Name(owner, property, type);
            var wide = _random.Next(2) == 0;
            byte[] zero = [0, 0, 0, 0];
            _table.AddRange(wide
                ? [(byte)(goesOn ? 8 : 7), .. big ? zero : Number(offset), .. big ? Number(offset) : zero, .. Number(length)]
                : [(byte)(goesOn ? 6 : 5), .. Number(offset), .. Number(length)]);
        }
        else
        {
            _table.AddRange([.. Number(owner), .. Number(property), .. Number(type), .. Number(offset), .. Number(length), .. Short(1), .. Short((ushort)(goesOn ? 2 : 0))]);
        }

        _entries++;
    }

    // A coded table says only what changed; now and then its buffer ends.
    private void Name(uint owner, uint property, uint type)
    {
        if (_entries > 0 && _entries % 20 == 0)
        {
            _table.Add(24);
            _table.AddRange(new byte[(1024 - (_table.Count % 1024)) % 1024]);
        }

        if (_last is not { } last || last.Item1 != owner)
        {
            _table.AddRange([1, .. Number(owner), .. Number(property), .. Number(type)]);
        }
        else if (last.Item2 != property)
        {
            _table.AddRange([2, .. Number(property), .. Number(type)]);
        }
        else if (last.Item3 != type)
        {
            _table.AddRange([3, .. Number(type)]);
        }

        _last = (owner, property, type);
    }

    private byte[] End(uint offset) =>
    [
        .. _table, 0xA4, 0x43, 0x4D, 0xA5, 0x48, 0x64, 0x72, 0xD7, .. Short(0), .. letters && !coded ? (byte[])[(byte)(big ? 'M' : 'I'), (byte)(big ? 'M' : 'I')] : Short(1),
        .. Short((ushort)(coded ? 2 : 1)), .. Short(0), .. Number(offset), .. Number((uint)_table.Count),
    ];

    private byte[] Number(uint value) => big ? [(byte)(value >> 24), (byte)(value >> 16), (byte)(value >> 8), (byte)value] : [(byte)value, (byte)(value >> 8), (byte)(value >> 16), (byte)(value >> 24)];

    private byte[] Short(ushort value) => big ? [(byte)(value >> 8), (byte)value] : [(byte)value, (byte)(value >> 8)];
}
