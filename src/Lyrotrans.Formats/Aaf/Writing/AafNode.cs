using Lyrotrans.Formats.Edits;
using System.Buffers.Binary;
using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Compound;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>
/// An object to be written: a class, and properties in the order in which they were set. It becomes a storage with a stream
/// <c>properties</c>, a storage for each object it owns and an index for each vector and set.
/// </summary>
/// <remarks>docs/formats/aaf.md, section 1.</remarks>
internal sealed class AafNode(string type)
{
    // What a name in a container can have, less what an index or a key adds to it.
    private const int LongestName = 31;
    private const int LongestKey = 10;
    private const int MostInline = ushort.MaxValue;
    private static readonly ConcurrentDictionary<(AafPath Path, Guid Key), byte[]> s_weak = new();
    private static readonly ConcurrentDictionary<(ushort Pid, int Longest), (string Name, byte[] Value)> s_names = new();
    private readonly List<(ushort Pid, byte Form, byte[] Value)> _properties = new(6);
    private List<(string Name, AafNode Node)>? _owned;
    private List<CompoundContent>? _streams;

    public string Type { get; } = type;

    public AafNode Data(ushort pid, byte[] value)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(value.Length, MostInline, nameof(value));
        _properties.Add((pid, 0x82, value));
        return this;
    }

    public AafNode Flag(ushort pid, bool value) => Data(pid, [value ? (byte)1 : (byte)0]);

    public AafNode Word(ushort pid, int value)
    {
        var bytes = new byte[2];
        BinaryPrimitives.WriteUInt16LittleEndian(bytes, (ushort)value);
        return Data(pid, bytes);
    }

    public AafNode Whole(ushort pid, long value)
    {
        var bytes = new byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, (uint)value);
        return Data(pid, bytes);
    }

    /// <summary>A position or a length: 64 bits.</summary>
    public AafNode Long(ushort pid, long value)
    {
        var bytes = new byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, value);
        return Data(pid, bytes);
    }

    public AafNode Ratio(ushort pid, Rational value) => Data(pid, Ratio32.Of(value).Bytes());

    public AafNode Text(ushort pid, string value) => Data(pid, Encoding.Unicode.GetBytes(value + '\0'));

    public AafNode Id(ushort pid, Guid value) => Data(pid, value.ToByteArray());

    public AafNode Ids(ushort pid, IEnumerable<Guid> values) => Data(pid, [.. values.SelectMany(v => v.ToByteArray())]);

    /// <summary>A value of any type: the type's identifier goes before it.</summary>
    public AafNode Indirect(ushort pid, string type, byte[] value)
    {
        var bytes = new byte[17 + value.Length];
        bytes[0] = 0x4C;
        AafModel.Type(type).Id.TryWriteBytes(bytes.AsSpan(1));
        value.CopyTo(bytes, 17);
        return Data(pid, bytes);
    }

    public AafNode Weak(ushort pid, AafPath path, Guid key)
    {
        _properties.Add((pid, 0x02, s_weak.GetOrAdd((path, key), static k => [.. Target(k.Path), .. k.Key.ToByteArray()])));
        return this;
    }

    /// <summary>References in an order; the index holds the keys.</summary>
    public AafNode WeakVector(ushort pid, AafPath path, IReadOnlyList<Guid> keys) => WeakList(pid, 0x12, path, keys);

    public AafNode WeakSet(ushort pid, AafPath path, IReadOnlyList<Guid> keys) => WeakList(pid, 0x1A, path, keys);

    public AafNode Own(ushort pid, AafNode node)
    {
        var (name, value) = StorageName(pid, LongestName);
        _properties.Add((pid, 0x22, value));
        (_owned ??= new(1)).Add((name, node));
        return this;
    }

    public AafNode OwnVector(ushort pid, IReadOnlyList<AafNode> nodes)
    {
        var index = Index(nodes.Count, 4);
        for (var i = 0; i < nodes.Count; i++)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(index.AsSpan(12 + (i * 4)), (uint)i);
        }

        return OwnList(pid, 0x32, nodes, index);
    }

    /// <summary>Objects known by a key: 16 bytes, or 32 for mobs.</summary>
    public AafNode OwnSet(ushort pid, ushort keyPid, IReadOnlyList<(byte[] Key, AafNode Node)> nodes, int keyBytes = 16)
    {
        var step = 8 + keyBytes;
        var index = Index(nodes.Count, step, 3);
        BinaryPrimitives.WriteUInt16LittleEndian(index.AsSpan(12), keyPid);
        index[14] = (byte)keyBytes;
        for (var i = 0; i < nodes.Count; i++)
        {
            var entry = index.AsSpan(15 + (i * step));
            BinaryPrimitives.WriteUInt32LittleEndian(entry, (uint)i);
            BinaryPrimitives.WriteUInt32LittleEndian(entry[4..], 1);
            nodes[i].Key.CopyTo(entry[8..]);
        }

        return OwnList(pid, 0x3A, [.. nodes.Select(n => n.Node)], index);
    }

    /// <summary>Bytes that lie in a stream of their own.</summary>
    public AafNode Stream(ushort pid, long length, Action<Stream> write)
    {
        var (name, value) = StorageName(pid, LongestName);
        _properties.Add((pid, 0x42, [0x55, .. value]));
        (_streams ??= []).Add(new CompoundContent(name, length, write));
        return this;
    }

    /// <summary>A stream that no property speaks of; only the root has one.</summary>
    public AafNode Loose(CompoundContent stream)
    {
        (_streams ??= []).Add(stream);
        return this;
    }

    public CompoundStorage ToStorage(string name)
    {
        var storage = new CompoundStorage(name, Type.Length > 0 ? AafModel.Class(Type).Id : AafModel.RootClass);
        storage.Streams.Add(new CompoundContent("properties", Properties()));
        storage.Streams.AddRange(_streams ?? []);
        foreach (var (child, node) in _owned ?? [])
        {
            storage.Storages.Add(node.ToStorage(child));
        }

        return storage;
    }

    private AafNode OwnList(ushort pid, byte form, IReadOnlyList<AafNode> nodes, byte[] index)
    {
        var (name, value) = StorageName(pid, LongestName - LongestKey);
        _properties.Add((pid, form, value));
        (_streams ??= new(1)).Add(new CompoundContent($"{name} index", index));
        _owned ??= new(nodes.Count);
        for (var i = 0; i < nodes.Count; i++)
        {
            _owned.Add((string.Create(CultureInfo.InvariantCulture, $"{name}{{{i:x}}}"), nodes[i]));
        }

        return this;
    }

    private AafNode WeakList(ushort pid, byte form, AafPath path, IReadOnlyList<Guid> keys)
    {
        var (name, value) = StorageName(pid, LongestName - LongestKey);
        var count = new byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(count, (uint)keys.Count);
        _properties.Add((pid, form, value));
        (_streams ??= new(1)).Add(new CompoundContent($"{name} index", [.. count, .. Target(path), .. keys.SelectMany(k => k.ToByteArray())]));
        return this;
    }

    private static byte[] Index(int count, int step, int extra = 0)
    {
        var bytes = new byte[12 + extra + (count * step)];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, (uint)count);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(4), (uint)count);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(8), uint.MaxValue);
        return bytes;
    }

    private static byte[] Target(AafPath path)
    {
        var bytes = new byte[5];
        BinaryPrimitives.WriteUInt16LittleEndian(bytes, (ushort)path);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(2), AafPaths.KeyOf(path));
        bytes[4] = 16;
        return bytes;
    }

    /// <summary>What a property's storages are called, as text and as the property's own value.</summary>
    private static (string Name, byte[] Value) StorageName(ushort pid, int longest) => s_names.GetOrAdd((pid, longest), static k =>
    {
        var name = Shortened(AafModel.PropertyName(k.Pid), k.Pid, k.Longest);
        return (name, Encoding.Unicode.GetBytes(name + '\0'));
    });

    // A long name is shortened in its middle.
    private static string Shortened(string property, ushort pid, int longest)
    {
        var ending = string.Create(CultureInfo.InvariantCulture, $"-{pid:x}");
        var room = longest - 5;
        var name = property.Length <= room ? property : $"{property[..(room / 2)]}-{property[^(room - (room / 2) - 1)..]}";
        return name + ending;
    }

    private byte[] Properties()
    {
        var bytes = new byte[4 + (_properties.Count * 6) + _properties.Sum(p => p.Value.Length)];
        bytes[0] = 0x4C;
        bytes[1] = 0x20;
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(2), (ushort)_properties.Count);
        var (head, value) = (4, 4 + (_properties.Count * 6));
        foreach (var property in _properties)
        {
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(head), property.Pid);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(head + 2), property.Form);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(head + 4), (ushort)property.Value.Length);
            property.Value.CopyTo(bytes, value);
            head += 6;
            value += property.Value.Length;
        }

        return bytes;
    }
}
