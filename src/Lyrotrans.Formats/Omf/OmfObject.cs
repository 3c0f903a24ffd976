using System.Buffers.Binary;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Bento;

namespace Lyrotrans.Formats.Omf;

/// <summary>An object of an OMF file: its class, and what it says by the names of properties. A property that is not there reads as null.</summary>
/// <remarks>docs/formats/omf.md, section 2.</remarks>
internal sealed class OmfObject(OmfFile file, uint id)
{
    private const int MostBytes = 1 << 24;
    private List<BentoValue>? _values;
    private string? _class;

    public uint Id => id;

    /// <summary>Four characters.</summary>
    public string Class => _class ??= file.Version == 1 ? Tag("OMFI:ObjID") : Tag("OMFI:OOBJ:ObjClass");

    /// <summary>Whether it is of a class or of one below it, by the model or else by the file's class dictionary.</summary>
    public bool Is(string type) => file.Is(Class, type);

    public bool Has(string property) => ValueOf(property) is not null;

    /// <summary>A whole number of 1, 2, 4 or 8 bytes.</summary>
    public long? Whole(string property) => Bytes(property) is not { } bytes ? null : (bytes.Length, file.IsBigEndian) switch
    {
        (1, _) => bytes[0],
        (2, true) => BinaryPrimitives.ReadInt16BigEndian(bytes),
        (2, false) => BinaryPrimitives.ReadInt16LittleEndian(bytes),
        (4, true) => BinaryPrimitives.ReadInt32BigEndian(bytes),
        (4, false) => BinaryPrimitives.ReadInt32LittleEndian(bytes),
        (8, true) => BinaryPrimitives.ReadInt64BigEndian(bytes),
        (8, false) => BinaryPrimitives.ReadInt64LittleEndian(bytes),
        _ => null,
    };

    /// <summary>A ratio; null where it is missing or its denominator is zero.</summary>
    public Rational? Ratio(string property) => Bytes(property) is { Length: 8 } bytes ? RatioOf(bytes) : null;

    /// <summary>A value of a parameter: a ratio, or a whole number.</summary>
    public double? Number(string property) => Bytes(property) is not { } bytes ? null : bytes.Length == 8 ? RatioOf(bytes)?.ToDouble() : Whole(property);

    public string? Text(string property) => Bytes(property) is { } bytes ? file.Texts.Decode(bytes) : null;

    /// <summary>A mob's identifier as lower-case hex of its bytes; null where it is missing or all zero.</summary>
    public string? MobId(string property) => Bytes(property) is { Length: 12 or 32 } bytes && bytes.AsSpan().ContainsAnyExcept((byte)0) ? file.HexOf(bytes) : null;

    public byte[]? Bytes(string property) => ValueOf(property) is { } value ? file.Container.Read(value, MostBytes) : null;

    public OmfObject? Object(string property) => Bytes(property) is { Length: 4 or 8 } bytes ? file.Object(Reference(bytes)) : null;

    /// <summary>What an array of references holds, in its order. What is not there is left out.</summary>
    public IEnumerable<OmfObject> Objects(string property)
    {
        if (Bytes(property) is not { Length: > 2 } bytes)
        {
            return Object(property) is { } one ? [one] : [];
        }

        int count = file.IsBigEndian ? BinaryPrimitives.ReadUInt16BigEndian(bytes) : BinaryPrimitives.ReadUInt16LittleEndian(bytes);

        // More than 65,535 of them are said by the length alone.
        var size = count > 0 && bytes.Length - 2 == count * 4 ? 4 : 8;
        return Enumerable.Range(0, (bytes.Length - 2) / size).Select(i => file.Object(Reference(bytes.AsSpan(2 + (i * size), size)))).OfType<OmfObject>();
    }

    /// <summary>A large value for reading; null where there is none or its bytes are another's too.</summary>
    public Stream? Open(string property) => ValueOf(property) is { } value ? file.Container.Open(value) : null;

    private string Tag(string property) => Bytes(property) is { Length: 4 } bytes ? System.Text.Encoding.Latin1.GetString(bytes) : string.Empty;

    private Rational? RatioOf(byte[] bytes)
    {
        var (n, d) = file.IsBigEndian
            ? (BinaryPrimitives.ReadInt32BigEndian(bytes), BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(4)))
            : (BinaryPrimitives.ReadInt32LittleEndian(bytes), BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(4)));
        return d == 0 ? null : new Rational(n, d);
    }

    // Of eight bytes the first four; some big-endian files have it in the last.
    private uint Reference(ReadOnlySpan<byte> bytes)
    {
        var first = Word(bytes);
        return first == 0 && bytes.Length == 8 ? Word(bytes[4..]) : first;
    }

    private uint Word(ReadOnlySpan<byte> bytes) => file.IsBigEndian ? BinaryPrimitives.ReadUInt32BigEndian(bytes) : BinaryPrimitives.ReadUInt32LittleEndian(bytes);

    private BentoValue? ValueOf(string property)
    {
        _values ??= [.. file.Container.Values(id)];
        foreach (var number in file.Container.IdsOf(property))
        {
            foreach (var value in _values)
            {
                if (value.Property == number)
                {
                    return value;
                }
            }
        }

        return null;
    }
}
