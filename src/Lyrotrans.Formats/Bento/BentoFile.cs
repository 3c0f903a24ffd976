using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Bento;

/// <summary>
/// A Bento container opened for reading: objects with values, found by the table of contents at its end. Values are read when they are asked for; the largest
/// are never held in memory.
/// </summary>
/// <remarks>docs/formats/bento.md, sections 2 and 4.</remarks>
internal sealed class BentoFile
{
    private const int MostContents = 1 << 29;
    private const int MostName = 256;

    // Values of this size and more are media; two that share bytes would make more of a file than there is in it.
    private const int Large = 1 << 16;
    private readonly Stream _stream;
    private readonly PageCache _pages;
    private readonly BentoEntry[] _entries;
    private readonly Dictionary<uint, (int First, int Count)> _objects = [];
    private readonly Dictionary<uint, string> _names = [];
    private readonly Dictionary<string, List<uint>> _ids = [];
    private readonly HashSet<long> _shared = [];
    private readonly FindingList _findings = [];

    private BentoFile(Stream stream, BentoLabel label, List<BentoEntry> entries, string name)
    {
        _stream = stream;
        _pages = new PageCache(stream);
        Name = name;
        IsBigEndian = label.BigEndian;
        ContentsForm = label.Form;
        var inside = entries.Where(e => e.Offset <= stream.Length && e.Length <= stream.Length - e.Offset);
        _entries = [.. Sorted(inside.ToList())];
        if (_entries.Length < entries.Count)
        {
            _findings.Add(BentoCodes.ValuesCut, string.Empty, $"{entries.Count - _entries.Length} values lie beyond the end of the file and were left out; it was cut short.");
        }

        for (var i = 0; i < _entries.Length;)
        {
            var end = i + 1;
            while (end < _entries.Length && _entries[end].Object == _entries[i].Object)
            {
                end++;
            }

            _objects[_entries[i].Object] = (i, end - i);
            i = end;
        }

        ReadNames();
        FindShared();
    }

    public string Name { get; }

    public bool IsBigEndian { get; }

    /// <summary>1 for a table of contents with entries of a fixed size, 2 for a coded one.</summary>
    public int ContentsForm { get; }

    public int Entries => _entries.Length;

    public IEnumerable<uint> Objects => _objects.Keys;

    public IEnumerable<Finding> Findings => _findings;

    public static bool Is(Stream stream)
    {
        if (!stream.CanSeek || stream.Length < BentoIds.LabelBytes)
        {
            return false;
        }

        Span<byte> label = stackalloc byte[BentoIds.LabelBytes];
        stream.Position = stream.Length - BentoIds.LabelBytes;
        stream.ReadExactly(label);
        stream.Position = 0;
        return BentoLabel.Is(label);
    }

    /// <param name="stream">Seekable; must outlive the file.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">No such container, or one whose table of contents cannot be followed.</exception>
    public static BentoFile Open(Stream stream, string name)
    {
        if (!Is(stream))
        {
            throw new BadInputException(BentoCodes.NoLabel, name, stream.Length, "It does not end with the label of a Bento container.", "It was cut short, or is something else; ask for it again.");
        }

        var bytes = new byte[BentoIds.LabelBytes];
        stream.Position = stream.Length - bytes.Length;
        stream.ReadExactly(bytes);
        BadInputException? first = null;
        foreach (var label in BentoLabel.Readings(bytes, stream.Length, name))
        {
            try
            {
                return new BentoFile(stream, label, Contents(stream, label, name), name);
            }
            catch (BadInputException problem)
            {
                first ??= problem;
            }
        }

        throw first!;
    }

    public bool Has(uint id) => _objects.ContainsKey(id);

    /// <summary>The name that an id is bound to, where it is one of a property or a type.</summary>
    public string? NameOf(uint id) => _names.GetValueOrDefault(id);

    /// <summary>The ids that a name is bound to; more than one where a writer bound it twice.</summary>
    public IReadOnlyList<uint> IdsOf(string name) => _ids.GetValueOrDefault(name) ?? [];

    /// <summary>The values of an object, in the order of the table.</summary>
    public IEnumerable<BentoValue> Values(uint id)
    {
        if (!_objects.TryGetValue(id, out var range))
        {
            yield break;
        }

        for (var i = range.First; i < range.First + range.Count;)
        {
            var parts = 1;
            var length = _entries[i].Length;
            while (i + parts < range.First + range.Count && _entries[i + parts] is { Continues: true } next && next.Property == _entries[i].Property && next.Type == _entries[i].Type)
            {
                length += _entries[i + parts].Length;
                parts++;
            }

            yield return new BentoValue(_entries[i].Property, _entries[i].Type, length, i, parts);
            i += parts;
        }
    }

    /// <summary>A value's bytes, no more than so many.</summary>
    public byte[] Read(BentoValue value, int most)
    {
        var bytes = new byte[(int)Math.Min(value.Length, most)];
        var done = 0;
        for (var i = value.First; i < value.First + value.Parts && done < bytes.Length; i++)
        {
            done += _pages.Read(_entries[i].Offset, bytes.AsSpan(done, (int)Math.Min(_entries[i].Length, bytes.Length - done)));
        }

        return bytes;
    }

    /// <summary>A value as a stream; null for one that shares its bytes with another.</summary>
    public Stream? Open(BentoValue value)
    {
        var parts = _entries.AsSpan(value.First, value.Parts).ToArray();
        return parts.Any(p => _shared.Contains(p.Offset)) ? null : new BentoStream(_stream, [.. parts.Select(p => (p.Offset, p.Length))]);
    }

    private static List<BentoEntry> Contents(Stream stream, BentoLabel label, string name)
    {
        if (label.ContentsBytes > MostContents)
        {
            throw new BadInputException(BentoCodes.BadContents, name, label.Contents, $"Its table of contents has {label.ContentsBytes} bytes, more than any session needs.", "It is damaged; ask for it again.");
        }

        var table = new byte[label.ContentsBytes];
        stream.Position = label.Contents;
        stream.ReadExactly(table);
        var entries = new BentoContents(table, label, name).Read();
        return entries.Exists(e => e.Object == BentoIds.Container && e.Offset + e.Length <= stream.Length)
            ? entries
            : throw new BadInputException(BentoCodes.BadContents, name, label.Contents, "Its table of contents does not say the container itself.", "It is damaged; ask for it again.");
    }

    // A writer may come back to an object; its values belong together, in their order.
    private static List<BentoEntry> Sorted(List<BentoEntry> entries)
    {
        for (var i = 1; i < entries.Count; i++)
        {
            if (entries[i].Object < entries[i - 1].Object)
            {
                return [.. entries.OrderBy(e => e.Object)];
            }
        }

        return entries;
    }

    private void ReadNames()
    {
        foreach (var id in _objects.Keys)
        {
            foreach (var value in Values(id).Where(v => v.Property is BentoIds.ObjectName or BentoIds.TypeName or BentoIds.PropertyName))
            {
                var bytes = Read(value, MostName).AsSpan();
                var end = bytes.IndexOf((byte)0);
                var name = Encoding.Latin1.GetString(end < 0 ? bytes : bytes[..end]);
                _names[id] = name;
                if (!_ids.TryGetValue(name, out var ids))
                {
                    ids = _ids[name] = [];
                }

                ids.Add(id);
            }
        }
    }

    private void FindShared()
    {
        // The table and the whole container are said as values too.
        var large = _entries.Where(e => e.Length >= Large && !(e.Object == BentoIds.Container && e.Property is BentoIds.Contents or BentoIds.Whole)).OrderBy(e => e.Offset).ToList();
        var (end, last) = (0L, 0L);
        foreach (var entry in large)
        {
            if (entry.Offset < end)
            {
                _shared.Add(entry.Offset);
                _shared.Add(last);
            }

            (end, last) = entry.Offset + entry.Length > end ? (entry.Offset + entry.Length, entry.Offset) : (end, last);
        }

        if (_shared.Count > 0)
        {
            _findings.Add(BentoCodes.ValuesShared, string.Empty, "Values of it lie over one another; the sound in them cannot be told apart and was left out.");
        }
    }
}
