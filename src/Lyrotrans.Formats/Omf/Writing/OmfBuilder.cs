using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Bento;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>Objects of version 2.1 and what they say, put into a container; with the definitions and the class dictionary that they need.</summary>
/// <remarks>docs/formats/omf.md, section 2.</remarks>
internal sealed class OmfBuilder
{
    private const int MostReferences = ushort.MaxValue;
    private readonly Dictionary<string, uint> _definitions = [];
    private readonly SortedSet<string> _classes = new(StringComparer.Ordinal);

    public BentoWriter Container { get; } = new();

    /// <summary>Data kinds and effects that were used.</summary>
    public IReadOnlyList<uint> Definitions => [.. _definitions.Values];

    public uint Object(string type)
    {
        var id = Container.NewObject();
        Class(id, type);
        return id;
    }

    public void Class(uint owner, string type)
    {
        Container.Add(owner, "OMFI:OOBJ:ObjClass", "omfi:ClassID", Encoding.ASCII.GetBytes(type));
        for (var at = type; at is not null; at = OmfClasses.ParentOf(at, 2))
        {
            _classes.Add(at);
        }
    }

    public void Bytes(uint owner, string property, string type, byte[] bytes) => Container.Add(owner, property, type, bytes);

    public void Flag(uint owner, string property, bool value) => Bytes(owner, property, "omfi:Boolean", [value ? (byte)1 : (byte)0]);

    public void Short(uint owner, string property, string type, short value)
    {
        var bytes = new byte[2];
        BinaryPrimitives.WriteInt16LittleEndian(bytes, value);
        Bytes(owner, property, type, bytes);
    }

    public void Whole(uint owner, string property, string type, int value) => Bytes(owner, property, type, Word(value));

    /// <summary>A length or a position: of 32 bits where it fits, else of 64.</summary>
    /// <param name="kind"><c>Length</c> or <c>Position</c>.</param>
    public void Units(uint owner, string property, string kind, long value)
    {
        if (value is >= int.MinValue and <= int.MaxValue)
        {
            Whole(owner, property, $"omfi:{kind}32", (int)value);
            return;
        }

        var bytes = new byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, value);
        Bytes(owner, property, $"omfi:{kind}64", bytes);
    }

    public void Text(uint owner, string property, string text, string type = "omfi:String") =>
        Bytes(owner, property, type, Encoding.ASCII.GetBytes(OmfOpenChoices.TerminatedTexts ? text + '\0' : text));

    public void Ratio(uint owner, string property, Ratio32 value, string type = "omfi:Rational") => Bytes(owner, property, type, value.Bytes());

    public void Ratio(uint owner, string property, Rational value, string type = "omfi:Rational") => Ratio(owner, property, Ratio32.Of(value), type);

    public void Stamp(uint owner, string property) => Bytes(owner, property, "omfi:TimeStamp", [.. Word((int)OmfOpenChoices.Stamp), 1]);

    /// <summary>An identifier of 12 bytes: three numbers.</summary>
    public void Id(uint owner, string property, string hex)
    {
        var bytes = Convert.FromHexString(hex);
        for (var at = 0; at < bytes.Length; at += 4)
        {
            bytes.AsSpan(at, 4).Reverse();
        }

        Bytes(owner, property, "omfi:UID", bytes);
    }

    public void Refer(uint owner, string property, uint to) => Bytes(owner, property, "omfi:ObjRef", Reference(to));

    /// <exception cref="ArgumentException">More than an array can count.</exception>
    public void Refer(uint owner, string property, IReadOnlyList<uint> to)
    {
        if (to.Count > MostReferences)
        {
            throw new ArgumentException($"{property} would hold {to.Count} parts, and the format counts to {MostReferences}.", nameof(to));
        }

        var bytes = new byte[2 + (to.Count * OmfOpenChoices.ReferenceBytes)];
        BinaryPrimitives.WriteUInt16LittleEndian(bytes, (ushort)to.Count);
        for (var i = 0; i < to.Count; i++)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(2 + (i * OmfOpenChoices.ReferenceBytes)), to[i]);
        }

        Bytes(owner, property, "omfi:ObjRefArray", bytes);
    }

    public uint DataKind(string kind) => Definition("DDEF", "OMFI:DDEF:DataKindID", $"omfi:data:{kind}");

    public uint Effect(string kind) => Definition("EDEF", "OMFI:EDEF:EffectID", $"omfi:effect:{kind}");

    public uint Segment(string type, string data, long length)
    {
        var id = Object(type);
        Refer(id, "OMFI:CPNT:DataKind", DataKind(data));
        Units(id, "OMFI:CPNT:Length", "Length", length);
        return id;
    }

    /// <summary>Every class that was used and those above it, parents first.</summary>
    public IReadOnlyList<uint> Dictionary()
    {
        _classes.UnionWith(["CLSD", "OOBJ"]);
        var ids = new Dictionary<string, uint>();
        foreach (var type in _classes.OrderBy(Depth).ThenBy(c => c, StringComparer.Ordinal))
        {
            var id = ids[type] = Container.NewObject();
            Container.Add(id, "OMFI:OOBJ:ObjClass", "omfi:ClassID", Encoding.ASCII.GetBytes("CLSD"));
            Bytes(id, "OMFI:CLSD:ClassID", "omfi:ClassID", Encoding.ASCII.GetBytes(type));
            if (OmfClasses.ParentOf(type, 2) is { } parent)
            {
                Refer(id, "OMFI:CLSD:ParentClass", ids[parent]);
            }
        }

        return [.. ids.Values];
    }

    private static int Depth(string type) => OmfClasses.ParentOf(type, 2) is { } parent ? Depth(parent) + 1 : 0;

    private uint Definition(string type, string property, string name)
    {
        if (!_definitions.TryGetValue(name, out var id))
        {
            id = _definitions[name] = Object(type);
            Text(id, property, name, "omfi:UniqueName");
        }

        return id;
    }

    private static byte[] Reference(uint to)
    {
        var bytes = new byte[OmfOpenChoices.ReferenceBytes];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, to);
        return bytes;
    }

    private static byte[] Word(int value)
    {
        var bytes = new byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, value);
        return bytes;
    }
}
