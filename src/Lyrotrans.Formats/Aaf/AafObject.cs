using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Compound;

namespace Lyrotrans.Formats.Aaf;

/// <summary>
/// An object of an AAF file: its class, and its properties by identifier as they lie in the storage's <c>properties</c> stream. What
/// it refers to is opened when it is asked for. A property that is not there reads as null.
/// </summary>
/// <remarks>docs/formats/aaf.md, section 1.</remarks>
internal sealed class AafObject
{
    private const int MostPropertyBytes = 1 << 24;
    private const byte LittleEndian = 0x4C;
    private const byte StrongReference = 0x22;
    private const byte StrongVector = 0x32;
    private const byte StrongSet = 0x3A;
    private readonly AafFile _file;
    private readonly CompoundEntry _storage;
    private readonly CompoundChildren _children;

    // A handful: looked through, not looked up. Of two with one identifier the later one counts.
    private (ushort Pid, ushort Form, ReadOnlyMemory<byte> Value)[] _properties = [];
    private string? _class;
    private List<(ushort Pid, AafObject? Object)>? _opened;

    public AafObject(AafFile file, CompoundEntry storage)
    {
        _file = file;
        _storage = storage;
        _children = file.Container.Children(storage);
        if (_children.TryGetValue("properties", out var stream))
        {
            ReadProperties(file.Container.ReadAll(stream, MostPropertyBytes));
        }
    }

    /// <summary>The class, or its nearest ancestor that the model knows.</summary>
    public string Class => _class ??= _file.ClassOf(_storage.Class);

    public bool Is(string type) => AafModel.Is(Class, type);

    public bool Has(ushort pid) => Find(pid) is not null;

    /// <summary>A whole number of 1, 2, 4 or 8 bytes.</summary>
    public long? Whole(ushort pid) => Bytes(pid) is not { } bytes ? null : bytes.Length switch
    {
        1 => bytes.Span[0],
        2 => BinaryPrimitives.ReadInt16LittleEndian(bytes.Span),
        4 => BinaryPrimitives.ReadInt32LittleEndian(bytes.Span),
        8 => BinaryPrimitives.ReadInt64LittleEndian(bytes.Span),
        _ => null,
    };

    /// <summary>A ratio; null where it is missing or its denominator is zero.</summary>
    public Rational? Ratio(ushort pid) => Bytes(pid) is { Length: 8 } bytes ? RatioOf(bytes.Span) : null;

    public string? Text(ushort pid) => Bytes(pid) is { } bytes ? TextOf(bytes.Span) : null;

    public Guid? Id(ushort pid) => Bytes(pid) is { Length: 16 } bytes ? new Guid(bytes.Span) : null;

    /// <summary>A mob's identifier as lower-case hex of its 32 bytes; null where it is missing or all zero.</summary>
    public string? MobId(ushort pid) => Bytes(pid) is { Length: 32 } bytes && bytes.Span.ContainsAnyExcept((byte)0) ? Convert.ToHexStringLower(bytes.Span) : null;

    /// <summary>The key of a weak reference.</summary>
    public Guid? Weak(ushort pid) => Bytes(pid) is { Length: >= 21 } bytes && bytes.Span[4] == 16 ? new Guid(bytes.Span.Slice(5, 16)) : null;

    public ReadOnlyMemory<byte>? Bytes(ushort pid) => Find(pid)?.Value;

    /// <summary>An indirect value: a type's identifier, then a ratio, a whole number or a text.</summary>
    public ReadOnlyMemory<byte>? Indirect(ushort pid) => Bytes(pid) is { Length: > 17 } bytes ? bytes[17..] : null;

    /// <summary>An indirect value that is a text; null where it is something else.</summary>
    public string? IndirectText(ushort pid) => Bytes(pid) is { Length: > 17 } bytes && new Guid(bytes.Span[1..17]) == AafModel.Type("String").Id ? TextOf(bytes.Span[17..]) : null;

    public static Rational? RatioOf(ReadOnlySpan<byte> bytes)
    {
        var denominator = BinaryPrimitives.ReadInt32LittleEndian(bytes[4..]);
        return denominator == 0 ? null : new Rational(BinaryPrimitives.ReadInt32LittleEndian(bytes), denominator);
    }

    public static string TextOf(ReadOnlySpan<byte> bytes)
    {
        var text = Encoding.Unicode.GetString(bytes[..(bytes.Length & ~1)]);
        var end = text.IndexOf('\0', StringComparison.Ordinal);
        return end < 0 ? text : text[..end];
    }

    /// <summary>The object of a strong reference, or the first of several; opened once.</summary>
    public AafObject? Object(ushort pid)
    {
        foreach (var (opened, known) in CollectionsMarshal.AsSpan(_opened))
        {
            if (opened == pid)
            {
                return known;
            }
        }

        var found = Objects(pid).FirstOrDefault();
        (_opened ??= new(2)).Add((pid, found));
        return found;
    }

    /// <summary>What a strong reference, vector or set holds, in its order. Missing elements are left out.</summary>
    public IEnumerable<AafObject> Objects(ushort pid)
    {
        if (Find(pid) is not { } property)
        {
            return [];
        }

        var name = TextOf(property.Value.Span);
        return property.Form switch
        {
            StrongReference => Open(name) is { } one ? [one] : [],
            StrongVector or StrongSet => Keys(name, property.Form == StrongSet).Select(k => Open($"{name}{{{k:x}}}")).OfType<AafObject>(),
            _ => [],
        };
    }

    /// <summary>A data stream of this object, opened for reading; null where there is none.</summary>
    public Stream? DataStream(ushort pid) =>
        Bytes(pid) is { Length: > 2 } bytes && _children.TryGetValue(TextOf(bytes.Span[1..]), out var entry) ? _file.Container.OpenStream(entry) : null;

    private (ushort Form, ReadOnlyMemory<byte> Value)? Find(ushort pid)
    {
        for (var i = _properties.Length - 1; i >= 0; i--)
        {
            if (_properties[i].Pid == pid)
            {
                return (_properties[i].Form, _properties[i].Value);
            }
        }

        return null;
    }

    private AafObject? Open(string name) => _children.TryGetValue(name, out var storage) && storage.Kind == CompoundEntryKind.Storage ? new AafObject(_file, storage) : null;

    private List<uint> Keys(string name, bool isSet)
    {
        var keys = new List<uint>();
        if (!_children.TryGetValue($"{name} index", out var entry))
        {
            return keys;
        }

        var bytes = _file.Container.ReadAll(entry, MostPropertyBytes).AsSpan();
        if (bytes.Length < 12)
        {
            return keys;
        }

        // A set's index has the size of its keys, and a reference count and the key after each local key.
        var keyBytes = isSet && bytes.Length > 14 ? bytes[14] : 0;
        var (at, step) = isSet ? (15, 8 + keyBytes) : (12, 4);
        for (var left = BinaryPrimitives.ReadUInt32LittleEndian(bytes); left > 0 && at + step <= bytes.Length; left--, at += step)
        {
            keys.Add(BinaryPrimitives.ReadUInt32LittleEndian(bytes[at..]));
        }

        return keys;
    }

    private void ReadProperties(byte[] bytes)
    {
        if (bytes.Length < 4)
        {
            return;
        }

        if (bytes[0] != LittleEndian)
        {
            throw new BadInputException(AafCodes.ByteOrder, _file.Name, _storage.Name, $"Its properties say byte order {bytes[0]:X2}, and 4C is read.", "Export it again.");
        }

        int count = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(2));
        var value = 4 + (count * 6);
        var properties = new (ushort, ushort, ReadOnlyMemory<byte>)[Math.Min(count, (bytes.Length - 4) / 6)];
        _properties = properties;
        for (var i = 0; i < properties.Length; i++)
        {
            var head = bytes.AsSpan(4 + (i * 6));
            int size = BinaryPrimitives.ReadUInt16LittleEndian(head[4..]);
            if (value + size > bytes.Length)
            {
                _file.Findings.Add(AafCodes.PropertyCut, _storage.Name, $"{_storage.Name}: a property is longer than its stream; it and what follows were left out.");
                _properties = properties[..i];
                return;
            }

            properties[i] = (BinaryPrimitives.ReadUInt16LittleEndian(head), BinaryPrimitives.ReadUInt16LittleEndian(head[2..]), bytes.AsMemory(value, size));
            value += size;
        }
    }
}
