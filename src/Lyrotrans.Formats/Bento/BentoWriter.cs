using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Formats.Bento;

/// <summary>
/// Writes a Bento container front to back, so that memory does not grow with what is in it: little-endian, with a table of contents of the first form. Values
/// lie in the order in which they were added, those that write themselves after all others; the same calls give the same bytes.
/// </summary>
/// <remarks>docs/formats/bento.md, section 2.</remarks>
internal sealed class BentoWriter
{
    private const ushort Immediate = 1;
    private const ushort Generation = 1;
    private const int ImmediateBytes = 4;
    private readonly Dictionary<string, uint> _properties = [];
    private readonly Dictionary<string, uint> _types = [];
    private readonly List<(uint Object, uint Property, uint Type, byte[] Bytes)> _values = [];
    private readonly List<(uint Object, uint Property, uint Type, long Length, Action<Stream> Write)> _streams = [];
    private uint _nextName = BentoIds.FirstName;
    private uint _nextObject = BentoIds.FirstObject;

    /// <summary>Offsets have 32 bits.</summary>
    public const long MostBytes = uint.MaxValue;

    public uint NewObject() => _nextObject++;

    public void Add(uint owner, string property, string type, byte[] bytes) => _values.Add((owner, Name(_properties, property), Name(_types, type), bytes));

    /// <summary>A value that is written when its turn comes.</summary>
    public void Add(uint owner, string property, string type, long length, Action<Stream> write) =>
        _streams.Add((owner, Name(_properties, property), Name(_types, type), length, write));

    /// <summary>Of the file, in bytes.</summary>
    public long Size => Values + Streams + ContentsBytes + BentoIds.LabelBytes;

    /// <exception cref="InvalidOperationException">It would be larger than offsets can say, or a value did not write what it said.</exception>
    public void Write(Stream output)
    {
        if (Size > MostBytes)
        {
            throw new InvalidOperationException($"The file would have {Size} bytes, and its offsets end at {MostBytes}.");
        }

        // Not disposed: the output is the caller's.
        var buffered = new BufferedStream(output, 1 << 17);
        var entries = new List<(uint Object, uint Property, uint Type, uint Offset, uint Length, bool Inside)>(_values.Count + _streams.Count + 200);
        var at = WriteNames(buffered, entries);
        foreach (var (owner, property, type, bytes) in _values)
        {
            if (bytes.Length > ImmediateBytes)
            {
                buffered.Write(bytes);
            }

            entries.Add((owner, property, type, bytes.Length > ImmediateBytes ? (uint)at : InTable(bytes), (uint)bytes.Length, bytes.Length <= ImmediateBytes));
            at += Outside(bytes);
        }

        foreach (var (owner, property, type, length, write) in _streams)
        {
            var counted = new CountedStream(buffered);
            write(counted);
            if (counted.Length != length)
            {
                throw new InvalidOperationException($"A value said {length} bytes and wrote {counted.Length}.");
            }

            entries.Add((owner, property, type, (uint)at, (uint)length, false));
            at += length;
        }

        entries.Add((BentoIds.Container, BentoIds.NextFree, BentoIds.NumberType, _nextObject, ImmediateBytes, true));
        entries.Add((BentoIds.Container, BentoIds.FirstData, BentoIds.NumberType, BentoIds.FirstObject, ImmediateBytes, true));
        entries.Add((BentoIds.Container, BentoIds.Contents, BentoIds.SpanType, (uint)at, (uint)ContentsBytes, false));
        entries.Add((BentoIds.Container, BentoIds.Whole, BentoIds.SpanType, 0, (uint)Size, false));
        var line = new byte[BentoIds.EntryBytes];
        entries.Sort((a, b) => ((ulong)a.Object << 32 | a.Property).CompareTo((ulong)b.Object << 32 | b.Property));
        foreach (var entry in entries)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(line, entry.Object);
            BinaryPrimitives.WriteUInt32LittleEndian(line.AsSpan(4), entry.Property);
            BinaryPrimitives.WriteUInt32LittleEndian(line.AsSpan(8), entry.Type);
            BinaryPrimitives.WriteUInt32LittleEndian(line.AsSpan(12), entry.Offset);
            BinaryPrimitives.WriteUInt32LittleEndian(line.AsSpan(16), entry.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(line.AsSpan(20), Generation);
            BinaryPrimitives.WriteUInt16LittleEndian(line.AsSpan(22), entry.Inside ? Immediate : (ushort)0);
            buffered.Write(line);
        }

        WriteLabel(buffered, (uint)at, ContentsBytes);
        buffered.Flush();
    }

    private IEnumerable<(uint Id, uint Kind, byte[] Bytes)> Names =>
        _properties.Select(p => (p.Value, BentoIds.PropertyName, Terminated(p.Key))).Concat(_types.Select(t => (t.Value, BentoIds.TypeName, Terminated(t.Key))));

    private long Values => Names.Sum(n => Outside(n.Bytes)) + _values.Sum(v => Outside(v.Bytes));

    private long Streams => _streams.Sum(s => s.Length);

    private long ContentsBytes => (long)BentoIds.EntryBytes * (_properties.Count + _types.Count + _values.Count + _streams.Count + 4);

    private long WriteNames(Stream output, List<(uint, uint, uint, uint, uint, bool)> entries)
    {
        long at = 0;
        foreach (var (id, kind, bytes) in Names)
        {
            var inside = bytes.Length <= ImmediateBytes;
            entries.Add((id, kind, BentoIds.TextType, inside ? InTable(bytes) : (uint)at, (uint)bytes.Length, inside));
            if (!inside)
            {
                output.Write(bytes);
            }

            at += Outside(bytes);
        }

        return at;
    }

    private static void WriteLabel(Stream output, uint contents, long bytes)
    {
        var label = new byte[BentoIds.LabelBytes];
        BentoIds.Magic.CopyTo(label);
        label[10] = label[11] = (byte)'I';
        BinaryPrimitives.WriteUInt16LittleEndian(label.AsSpan(12), 1);
        BinaryPrimitives.WriteUInt32LittleEndian(label.AsSpan(16), contents);
        BinaryPrimitives.WriteUInt32LittleEndian(label.AsSpan(20), (uint)bytes);
        output.Write(label);
    }

    private uint Name(Dictionary<string, uint> names, string name) => names.TryGetValue(name, out var id) ? id : names[name] = _nextName++;

    private static byte[] Terminated(string name) => Encoding.ASCII.GetBytes(name + '\0');

    private static long Outside(byte[] bytes) => bytes.Length > ImmediateBytes ? bytes.Length : 0;

    // Left-justified in the four bytes of the offset.
    private static uint InTable(byte[] bytes)
    {
        Span<byte> four = stackalloc byte[ImmediateBytes];
        bytes.CopyTo(four);
        return BinaryPrimitives.ReadUInt32LittleEndian(four);
    }
}
